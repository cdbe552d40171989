'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Copy, Cpu, RefreshCw } from 'lucide-react';
import Link from 'next/link';
import { toast } from 'sonner';
import { drainMachine, listMachines, type Machine, removeMachine, renewToken } from '@/api/machines';
import { request } from '@/api/request';
import { t } from '../words/words';
import { Frame } from './Frame';
import { NotRead } from './NotRead';

/** Machines that render: who is there and does what, and how another joins. */
export function MachinesScreen() {
  return (
    <Frame page="/machines">
      <Machines />
    </Frame>
  );
}

const key = ['machines'];

function Machines() {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => request(listMachines, {}, { signal }),
    refetchInterval: 1000,
  });
  const change = async (work: Promise<unknown>) => {
    await work.catch((e) => toast.error((e as Error).message));
    await client.invalidateQueries({ queryKey: key });
  };
  if (!data) return <NotRead error={error} reading={t`Machines are being read …`} onRetry={refetch} />;
  const { address, isForOthers, token } = data.joining;
  const command = `./zafiro node --server ${address} --token ${token || 'TOKEN'}`;
  const copy = () =>
    navigator.clipboard.writeText(command).then(
      () => toast.success(t`The command is on the clipboard.`),
      () => toast.error(t`The clipboard may not be written here. Mark the command and copy it.`),
    );
  return (
    <>
      {error && (
        <p role="status" className="mb-4 text-warning">
          {error.message}
        </p>
      )}
      <ul className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(21rem,1fr))] gap-4">
        {data.machines.map((m) => (
          <MachineCard key={m.id} machine={m} onChange={change} />
        ))}
      </ul>
      <section className="mt-8 max-w-3xl text-[13px]">
        <h2 className="mb-1 font-semibold">{t`Add a machine`}</h2>
        <p className="text-quiet">
          {isForOthers
            ? t`Run this on any machine that has the same version of Zafiro. Add --map /folder/there=/folder/here where it has the frames in a shared folder of another name; without one it reads them from here.`
            : t`Only this machine can reach the server now. Start it with --nodes ADDRESS:PORT to let others in; on this machine itself, this command adds a renderer:`}
        </p>
        {token === '' ? (
          <p className="mt-2 text-quiet">
            {t`TOKEN stands for a token with the scope node. An administrator makes one on the Account page.`}{' '}
            <Link href="/account" className="link">
              {t`Account`}
            </Link>
          </p>
        ) : null}
        <div className="mt-2 flex items-center gap-2">
          <code
            // biome-ignore lint/a11y/noNoninteractiveTabindex: what is longer than its box is scrolled by keyboard
            tabIndex={0}
            className="min-w-0 flex-1 overflow-x-auto rounded-field border border-line bg-base-100 px-3 py-2 whitespace-nowrap"
          >
            {command}
          </code>
          <button type="button" className="btn btn-sm" onClick={copy}>
            <Copy size={14} /> {t`Copy`}
          </button>
        </div>
        {token !== '' && (
          <p className="mt-3 text-quiet">
            {t`Anyone who has the token can read the frames of exports.`}{' '}
            <button type="button" className="link" onClick={() => change(request(renewToken, {}))}>
              <RefreshCw size={12} className="inline" /> {t`Make another token`}
            </button>{' '}
            {t`to keep out machines that have this one.`}
          </p>
        )}
      </section>
    </>
  );
}

type Props = { machine: Machine; onChange(work: Promise<unknown>): void };

function MachineCard({ machine: m, onChange }: Props) {
  const params = { machine: m.id };
  const state = !m.isHere
    ? t`not heard of`
    : m.draining
      ? m.holds.length > 0
        ? t`ends what it has`
        : 'rests'
      : m.holds.length > 0
        ? 'renders'
        : t`waits for frames`;
  const tone = !m.isHere
    ? 'bg-error'
    : m.draining
      ? 'bg-neutral'
      : m.holds.length > 0
        ? 'bg-secondary'
        : 'bg-success';
  return (
    <li
      className="flex flex-col rounded-box border border-line bg-base-100 p-4 text-[13px]"
      data-machine={m.name}
    >
      <div className="flex items-center gap-2">
        <Cpu size={16} className="text-quiet" />
        <span className="truncate font-medium">{m.name}</span>
        {m.isServer && <span className="badge badge-sm">{t`this server`}</span>}
        <span className="ml-auto flex items-center gap-1.5 text-xs text-quiet">
          <span className={`inline-block size-2 rounded-full ${tone}`} /> {state}
        </span>
      </div>
      <p className="mt-2 text-xs text-quiet">
        {t`${m.cores} cores, ${(m.megabytes / 1024).toFixed(0)} GB${
          m.places > 0 ? t`, up to ${m.places} frames at a time` : t`, renders nothing itself`
        }`}
      </p>
      <p className="mt-1 text-xs text-quiet">
        {m.framesDone === 0
          ? t`No frame done yet`
          : t`${m.framesDone} frames done, ${((m.meanMillis ?? 0) / 1000).toFixed(2)} s each`}
      </p>
      <ul className="mt-2 grid gap-0.5 text-xs">
        {m.holds.slice(0, 6).map((h) => (
          <li key={`${h.run}-${h.frame}`} className="truncate">
            {t`Frame ${h.frame} of ${h.fileName}`}
          </li>
        ))}
      </ul>
      {m.problem && (
        <p className="mt-2 line-clamp-3 text-xs break-words text-error" title={m.problem}>
          {m.problem}
        </p>
      )}
      <div className="mt-auto flex gap-2 pt-3">
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => onChange(request(drainMachine, { params, body: { draining: !m.draining } }))}
        >
          {m.draining ? t`Take frames again` : t`Take no more frames`}
        </button>
        {!m.isServer && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() => onChange(request(removeMachine, { params }))}
          >
            {t`Remove`}
          </button>
        )}
      </div>
    </li>
  );
}
