import { createContext, useCallback, useContext, useEffect, useMemo, useState } from 'react';
import { type Engine, startEngine } from './engine';
import type { MediaIndex } from './pass-source';

/** The engine and the media it knows; a new object whenever frames arrive, so that views ask again. */
export type Started = { engine: Engine; media: MediaIndex };

export type EngineState = {
  started: Started | null /** Why it stopped. */;
  failed?: string;
  restart(): void;
};

export const EngineContext = createContext<EngineState>({ started: null, restart: () => {} });
export const useEngine = () => useContext(EngineContext).started;
export const useEngineState = () => useContext(EngineContext);

/** Starts the engine with the screen and tells it of every frame that arrives. */
export function useStartedEngine(media: MediaIndex): EngineState {
  const [engine, setEngine] = useState<Engine | null>(null);
  const [started, setStarted] = useState<Started | null>(null);
  const [failed, setFailed] = useState<string>();
  const [attempt, setAttempt] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each attempt starts another
  useEffect(() => {
    setFailed(undefined);
    const running = startEngine((error) => {
      setFailed(error.message);
      setStarted(null);
      setEngine(null);
    });
    setEngine(running.engine);
    return running.end;
  }, [attempt]);
  useEffect(() => {
    if (!engine) return;
    let current = true;
    engine.setMedia(media).then(
      () => current && setStarted({ engine, media }),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [engine, media]);
  const restart = useCallback(() => setAttempt((n) => n + 1), []);
  return useMemo(() => ({ started, failed, restart }), [started, failed, restart]);
}
