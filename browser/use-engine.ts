import { createContext, useContext, useEffect, useState } from 'react';
import { type Engine, startEngine } from './engine';
import type { MediaIndex } from './pass-source';

/** The engine and the media it knows; a new object whenever frames arrive, so that views ask again. */
export type Started = { engine: Engine; media: MediaIndex };

export const EngineContext = createContext<Started | null>(null);
export const useEngine = () => useContext(EngineContext);

/** Starts the engine with the screen and tells it of every frame that arrives. */
export function useStartedEngine(media: MediaIndex): Started | null {
  const [engine, setEngine] = useState<Engine | null>(null);
  const [started, setStarted] = useState<Started | null>(null);
  useEffect(() => {
    const running = startEngine();
    setEngine(running.engine);
    return running.end;
  }, []);
  useEffect(() => {
    if (!engine) return;
    let current = true;
    engine.setMedia(media).then(() => current && setStarted({ engine, media }));
    return () => {
      current = false;
    };
  }, [engine, media]);
  return started;
}
