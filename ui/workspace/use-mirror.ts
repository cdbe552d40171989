import { useEffect, useState } from 'react';
import { Mirror } from '@/browser/workspace/mirror';

/** The page's end of the viewer's window; keys that are pressed there are pressed here. */
export function useStartedMirror(finish: number): Mirror | null {
  const [mirror, setMirror] = useState<Mirror | null>(null);
  useEffect(() => {
    const made = new Mirror(finish, (init) => {
      document.body.dispatchEvent(new KeyboardEvent('keydown', init));
      document.body.dispatchEvent(new KeyboardEvent('keyup', init));
    });
    setMirror(made);
    // A page that goes as a whole ends nothing that it began.
    const leave = () => made.leave();
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      setMirror(null);
      made.end();
    };
  }, [finish]);
  return mirror;
}

/** Opens the viewer's window, or brings it to the front. */
export const openViewerWindow = (shot: number, finish: number) =>
  window.open(`/shots/${shot}/viewer?finish=${finish}`, `zafiro-viewer-${finish}`, 'width=1280,height=760');
