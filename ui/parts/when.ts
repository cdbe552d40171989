/** A moment, as it is read on a page; of things that are kept for long with its year. */
export const when = (iso: string, withYear = false) =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    ...(withYear && { year: 'numeric' }),
    hour: '2-digit',
    minute: '2-digit',
  });
