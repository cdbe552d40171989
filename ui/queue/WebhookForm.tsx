import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { readWebhook, setWebhook, tryWebhook } from '@/api/queue';
import { request } from '@/api/request';
import { t } from '../words/words';

const key = ['webhook'];

/** The address that is told when exports end. */
export function WebhookForm() {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: key, queryFn: () => request(readWebhook, {}) });
  const [typed, setTyped] = useState<string>();
  const url = typed ?? data?.url ?? '';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      await request(setWebhook, { body: { url } });
      setTyped(undefined);
      toast.success(
        url.trim()
          ? t`From now on Zafiro sends a message there when an export ends.`
          : t`Notifications are off.`,
      );
    } catch (error) {
      toast.error((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: key });
  };
  const attempt = () =>
    request(tryWebhook, {}).then(
      () => toast.success(t`The address accepted a test message.`),
      (error) => toast.error((error as Error).message),
    );
  return (
    <details className="mt-10 max-w-3xl text-[13px]">
      <summary className="cursor-pointer text-quiet">{t`Tell another program when exports end`}</summary>
      <form className="mt-3 grid gap-2" onSubmit={submit}>
        <p className="text-quiet">
          {t`Zafiro posts a message as JSON to this address when an export ends. Its signature (HMAC-SHA256 of time, dot and text) stands in`}{' '}
          <code>{t`x-zafiro-signature`}</code>.
        </p>
        <div className="flex gap-2">
          <input
            className="input input-sm flex-1"
            aria-label={t`Address to notify`}
            placeholder={t`https://`}
            value={url}
            onChange={(e) => setTyped(e.target.value)}
          />
          <button type="submit" className="btn btn-sm" disabled={typed === undefined || typed === data?.url}>
            {t`Keep`}
          </button>
          <button type="button" className="btn btn-sm btn-ghost" disabled={!data?.url} onClick={attempt}>
            {t`Try it`}
          </button>
        </div>
        {data?.secret && (
          <p className="text-xs text-quiet">
            {t`Secret of the signature:`} <code className="select-all">{data.secret}</code>
          </p>
        )}
      </form>
    </details>
  );
}
