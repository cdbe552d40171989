/** Where a page of this server leads back to: its path, or the shelf for what would lead elsewhere. */
export function ownPath(to: string | undefined): string {
  const here = 'http://here.invalid';
  try {
    const { origin, pathname, search, hash } = new URL(to ?? '/', here);
    // As a browser reads it: a path of two slashes names another host.
    return origin === here && !pathname.startsWith('//') ? `${pathname}${search}${hash}` : '/';
  } catch {
    return '/';
  }
}
