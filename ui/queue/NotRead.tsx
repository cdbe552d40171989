import { State } from '../parts/State';
import { t } from '../words/words';

/** What has not come from the server yet, or could not be had. */
export function NotRead({
  error,
  reading,
  onRetry,
}: {
  error: Error | null;
  reading: string;
  onRetry(): void;
}) {
  if (!error) return <State is="loading" title={reading} />;
  return (
    <State is="failed" title={t`The server did not answer`} words={error.message}>
      <button type="button" className="btn btn-sm btn-primary" onClick={onRetry}>
        {t`Try again`}
      </button>
    </State>
  );
}
