import { createContext, useContext, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import type { Look } from '../engine/look-on';
import { useEngine } from '../engine/use-engine';
import { useShot, useShotStore } from '../session/store';
import { createPlayer, type Player, type PlayState, readyBytes } from './player';
import { type PlaySettings, playSettings } from './settings';

export const PlayerContext = createContext<Player | null>(null);
export const usePlayer = () => useContext(PlayerContext)!;

/** Part of what the player does just now. */
export const usePlay = <T>(part: (s: PlayState) => T): T => useStore(usePlayer().state, part);
export const usePlaySettings = <T>(part: (s: PlaySettings) => T): T => useStore(usePlayer().settings, part);

/** Bytes of pictures that are kept ready; `?ready=64` in the page's address asks for so many megabytes, for a machine that has few. */
const mostBytes = () => Number(new URLSearchParams(location.search).get('ready')) * 2 ** 20 || readyBytes;

/** The player of a finish; it follows the playhead of the screen, and leads it while it plays. */
export function useStartedPlayer(finish: number): Player | null {
  const store = useShotStore();
  const frame = useShot((s) => s.frame);
  const [player, setPlayer] = useState<Player | null>(null);
  useEffect(() => {
    const made = createPlayer(
      playSettings(finish),
      (at) => store.getState().change({ frame: at }),
      undefined,
      mostBytes(),
    );
    setPlayer(made);
    return () => {
      setPlayer(null);
      made.end();
    };
  }, [finish, store]);
  useEffect(() => player?.moveTo(frame), [player, frame]);
  // A page that nobody sees draws nothing: its frames would all be late.
  useEffect(() => {
    const hidden = () => document.hidden && player?.stop();
    document.addEventListener('visibilitychange', hidden);
    return () => document.removeEventListener('visibilitychange', hidden);
  }, [player]);
  return player;
}

/** The smallest of the engine's sizes that is as fine as the screen. */
export function scaleFor(zoom: number): number {
  for (const scale of [0.125, 0.25, 0.5]) if (scale >= zoom) return scale;
  return 1;
}

type Shot = { first: number; last: number; rate: number };

/** Tells the player what there is to play: what the viewer looks at, as large as it shows it. */
export function useScene(look: Look, zoom: number, { first, last, rate }: Shot) {
  const player = usePlayer();
  const started = useEngine();
  const scale = scaleFor(zoom * (typeof window === 'undefined' ? 1 : window.devicePixelRatio));
  const { request, beside } = look;
  const finished =
    request.point.strand === request.finish.main &&
    request.point.after === 'end' &&
    !request.region &&
    !beside.against?.difference;
  useEffect(() => {
    // Frames that arrive make another `started`, so that they are asked for.
    player.setScene(
      started ? { engine: started.engine, look, scale, first, last, rate, finished } : undefined,
    );
  }, [player, started, look, scale, first, last, rate, finished]);
}
