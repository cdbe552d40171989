import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

/** Does something on the server, says what went wrong beside it, and asks anew for what is shown. */
export function useWork(key: readonly unknown[]) {
  const client = useQueryClient();
  const [problem, setProblem] = useState('');
  const work = async (doing: () => Promise<unknown>) => {
    setProblem('');
    try {
      await doing();
      await client.invalidateQueries({ queryKey: key });
      return true;
    } catch (error) {
      setProblem((error as Error).message);
      return false;
    }
  };
  return { problem, work };
}
