/** What keys do on the shot screen: each command with its usual keys. They can be changed (`ui/keys/KeyHelp.tsx`). */

export const commandGroups = {
  board: 'Board',
  step: 'Steps',
  viewer: 'Viewer',
  time: 'Frames and time',
  screen: 'Screen',
} as const;

export type Command = {
  /** Keys as react-hotkeys-hook writes them; several ways are separated by commas. */
  keys: string;
  label: string;
  group: keyof typeof commandGroups;
  /** The browser would do something else with them. */
  prevents?: true;
};

export const commands = {
  'step-above': { keys: 'up', label: 'Select the step above', group: 'board', prevents: true },
  'step-below': { keys: 'down', label: 'Select the step below', group: 'board', prevents: true },
  'strand-left': {
    keys: 'shift+left',
    label: 'Select the strand on the left',
    group: 'board',
    prevents: true,
  },
  'strand-right': {
    keys: 'shift+right',
    label: 'Select the strand on the right',
    group: 'board',
    prevents: true,
  },
  'extend-above': {
    keys: 'alt+shift+up',
    label: 'Select the step above too',
    group: 'board',
    prevents: true,
  },
  'extend-below': {
    keys: 'alt+shift+down',
    label: 'Select the step below too',
    group: 'board',
    prevents: true,
  },
  links: { keys: 'l', label: 'Jump along a link', group: 'board' },
  'links-back': { keys: 'shift+l', label: 'Jump back', group: 'board' },
  feeds: { keys: 'v', label: 'Show only what feeds this', group: 'board' },
  search: { keys: '/', label: 'Search steps and strands by name', group: 'board', prevents: true },
  'fit-board': { keys: 'z', label: 'Fit all strands', group: 'board' },
  'board-larger': { keys: 'shift+up', label: 'Board larger', group: 'board', prevents: true },
  'board-smaller': { keys: 'shift+down', label: 'Board smaller', group: 'board', prevents: true },
  fold: { keys: 'u', label: 'Fold, unfold the recipe or the strand', group: 'board' },
  'edit-inside': { keys: 'e', label: 'Edit inside the recipe', group: 'board' },

  'add-step': { keys: 'a, insert', label: 'Add a step', group: 'step', prevents: true },
  'add-strand': { keys: 'shift+a, shift+insert', label: 'Add a strand', group: 'step', prevents: true },
  values: { keys: 'enter', label: 'Go to the values of the step', group: 'step' },
  'move-up': { keys: 'alt+up', label: 'Move the step up', group: 'step', prevents: true },
  'move-down': { keys: 'alt+down', label: 'Move the step down', group: 'step', prevents: true },
  bypass: { keys: 'y', label: 'Bypass the step', group: 'step' },
  remove: { keys: 'delete', label: 'Remove the step', group: 'step' },
  copy: { keys: 'mod+c', label: 'Copy the step', group: 'step' },
  paste: { keys: 'mod+v', label: 'Paste the step', group: 'step' },
  duplicate: { keys: 'd', label: 'Duplicate the step', group: 'step' },
  undo: { keys: 'mod+z', label: 'Undo', group: 'step', prevents: true },
  redo: { keys: 'mod+shift+z, mod+y', label: 'Redo', group: 'step', prevents: true },

  'bypass-all': { keys: 'w', label: 'Bypass all steps', group: 'viewer' },
  compare: { keys: 'c', label: 'Compare', group: 'viewer' },
  flip: { keys: 'x', label: 'Flip to the other picture', group: 'viewer' },
  scopes: { keys: 's', label: 'Scopes', group: 'viewer' },
  matte: { keys: 'm', label: 'Matte: tint, outline, on black', group: 'viewer' },
  region: { keys: 'r', label: 'Compute a region only', group: 'viewer' },
  fit: { keys: 'f', label: 'Fit the picture', group: 'viewer' },
  'full-size': { keys: '1', label: 'Picture at 100 %', group: 'viewer' },
  references: { keys: 'q', label: 'Reference pictures', group: 'viewer' },

  play: { keys: 'space', label: 'Play, stop', group: 'time', prevents: true },
  'play-back': { keys: 'shift+space', label: 'Play backwards', group: 'time', prevents: true },
  'frame-before': { keys: 'left', label: 'Frame before', group: 'time', prevents: true },
  'frame-after': { keys: 'right', label: 'Frame after', group: 'time', prevents: true },
  'first-frame': { keys: 'home', label: 'First frame that is played', group: 'time', prevents: true },
  'last-frame': { keys: 'end', label: 'Last frame that is played', group: 'time', prevents: true },
  in: { keys: 'i', label: 'Play from this frame', group: 'time' },
  out: { keys: 'o', label: 'Play to this frame', group: 'time' },
  'next-key': { keys: 'n', label: 'Next key', group: 'time' },
  'key-before': { keys: 'p', label: 'Key before', group: 'time' },
  mark: { keys: 'b', label: 'Mark the frame', group: 'time' },
  'next-mark': { keys: 'shift+n', label: 'Next mark', group: 'time' },
  'mark-before': { keys: 'shift+p', label: 'Mark before', group: 'time' },
  drawer: { keys: 't', label: 'Time: lanes, curves, keys and guides', group: 'time' },

  'next-area': { keys: 'j', label: 'Go to the next area', group: 'screen' },
  arrangement: { keys: 'g', label: 'Board or viewer in the middle', group: 'screen' },
  theatre: { keys: 'h', label: 'Theatre: the picture alone', group: 'screen' },
  window: { keys: 'shift+h', label: 'Viewer in a window of its own', group: 'screen' },
  keys: { keys: 'shift+?, ?', label: 'All keys', group: 'screen' },
} as const satisfies Record<string, Command>;

export type CommandId = keyof typeof commands;

const words: Record<string, string> = {
  mod: 'Ctrl',
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  insert: 'Ins',
  delete: 'Del',
};
const wordOf = (part: string) => words[part] ?? part.replace(/^./, (c) => c.toUpperCase());

/** Keys as they stand on the screen: the first way to them. */
export function keyWords(keys: string): string {
  const ways = keys.split(', ');
  // The question mark is on Shift on some keyboards and not on others.
  const way = ways.find((w) => !w.includes('?')) ?? '?';
  return way.split('+').map(wordOf).join(' ');
}

/** Combinations that the browser or the system keeps for itself, or that everybody expects from it. */
const ofBrowser =
  /^(mod\+(shift\+)?([abdefghijklnopqrstuwx]|tab|\d|f\d+|arrow.*|page.*)|alt\+(left|right|f4|home|d|e|f)|f\d+|tab|shift\+tab|esc(ape)?|mod\+[+-])$/;

export const isOfBrowser = (keys: string): boolean => ofBrowser.test(keys);

const names: Record<string, string> = {
  ' ': 'space',
  arrowup: 'up',
  arrowdown: 'down',
  arrowleft: 'left',
  arrowright: 'right',
};

/** The keys of a press, as commands write them; none while only Shift, Ctrl or Alt is down, or for keys that cannot be written. */
export function keysOf(
  e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>,
): string | undefined {
  const key = e.key.toLowerCase();
  if (['shift', 'control', 'alt', 'meta', 'altgraph', 'dead', ',', '+'].includes(key)) return;
  const modifiers = [
    ...(e.ctrlKey || e.metaKey ? ['mod'] : []),
    ...(e.altKey ? ['alt'] : []),
    ...(e.shiftKey ? ['shift'] : []),
  ];
  return [...modifiers, names[key] ?? key].join('+');
}

/** The command that has these keys already, by the keys as they are now. */
export function commandWith(keys: string, changed: Readonly<Record<string, string>>): CommandId | undefined {
  return (Object.keys(commands) as CommandId[]).find((id) =>
    (changed[id] ?? commands[id].keys).split(', ').includes(keys),
  );
}
