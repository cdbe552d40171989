import { workspace } from '@/browser/workspace/workspace';

/** The board takes the middle, or gives it to the viewer. */
export const setArrangement = () =>
  workspace.setState(({ arrangement }) => ({ arrangement: arrangement === 'look' ? 'build' : 'look' }));
