import { t } from '../words/words';
/** What to do where nothing has keys yet. */
export const NoLanes = () => (
  <p className="m-auto max-w-md py-6 text-center text-sm text-quiet">
    {t`Nothing changes over time yet. Put a key on a value with the diamond beside it, or switch on “Animate while I change” and change values on several frames.`}
  </p>
);
