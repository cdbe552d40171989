import { createContext, useContext, useEffect, useState } from 'react';
import type { Size } from '../../core/picture/region';
import { openSession, type Session } from './session';

export const SessionContext = createContext<Session | null>(null);
export const useSession = () => useContext(SessionContext)!;

export type Opening = { session?: Session; problem?: string; retry(): void };

/** Opens the document of a screen and leaves it with the screen. */
export function useOpenedSession(finish: number, frame: number, size: Size): Opening {
  const [session, setSession] = useState<Session>();
  const [problem, setProblem] = useState<string>();
  const [attempt, setAttempt] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for a finish, and for each further try
  useEffect(() => {
    let left = false;
    let opened: Session | undefined;
    setProblem(undefined);
    openSession(finish, frame, size).then(
      (found) => {
        opened = found;
        if (left) found.leave();
        else setSession(found);
      },
      (error) => !left && setProblem((error as Error).message),
    );
    return () => {
      left = true;
      opened?.leave();
    };
  }, [finish, attempt]);
  return { session, problem, retry: () => setAttempt((n) => n + 1) };
}
