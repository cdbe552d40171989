import { useWorkspace } from '@/browser/workspace/workspace';
import { useKey } from '../parts/use-key';
import { type Command, type CommandId, commands, keyWords } from './commands';

/** Keys of a command as they are now, in this browser. */
export const useKeysOf = (id: CommandId): string => useWorkspace((w) => w.keys[id] ?? commands[id].keys);

/** The same, as they stand on the screen. */
export const useKeyWords = (id: CommandId): string => keyWords(useKeysOf(id));

/** Does a command at its keys. */
export function useCommand(id: CommandId, act: () => void) {
  const { prevents }: Command = commands[id];
  useKey(useKeysOf(id), act, prevents);
}
