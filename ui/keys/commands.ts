import { t } from '../words/words';
/** What keys do on the shot screen: each command with its usual keys. They can be changed (`ui/keys/KeyHelp.tsx`). */

export const commandGroups = {
  board: t`Board`,
  step: t`Steps`,
  viewer: t`Viewer`,
  time: t`Frames and time`,
  screen: t`Screen`,
} as const;

export type Command = {
  /** Keys as react-hotkeys-hook writes them; several ways are separated by commas. */
  keys: string;
  label: string;
  group: keyof typeof commandGroups;
  /** The browser would do something else with them, or write them into the field that opens. */
  prevents?: true;
};

export const commands = {
  'step-above': { keys: 'up', label: t`Select the step above`, group: 'board', prevents: true },
  'step-below': { keys: 'down', label: t`Select the step below`, group: 'board', prevents: true },
  'strand-left': {
    keys: 'shift+left',
    label: t`Select the strand on the left`,
    group: 'board',
    prevents: true,
  },
  'strand-right': {
    keys: 'shift+right',
    label: t`Select the strand on the right`,
    group: 'board',
    prevents: true,
  },
  'extend-above': {
    keys: 'alt+shift+up',
    label: t`Select the step above too`,
    group: 'board',
    prevents: true,
  },
  'extend-below': {
    keys: 'alt+shift+down',
    label: t`Select the step below too`,
    group: 'board',
    prevents: true,
  },
  links: { keys: 'l', label: t`Jump along a link`, group: 'board' },
  'links-back': { keys: 'shift+l', label: t`Jump back`, group: 'board' },
  feeds: { keys: 'v', label: t`Show only what feeds this`, group: 'board' },
  search: { keys: '/', label: t`Search steps and strands by name`, group: 'board', prevents: true },
  'fit-board': { keys: 'z', label: t`Fit all strands`, group: 'board' },
  'board-larger': { keys: 'shift+up', label: t`Board larger`, group: 'board', prevents: true },
  'board-smaller': { keys: 'shift+down', label: t`Board smaller`, group: 'board', prevents: true },
  fold: { keys: 'u', label: t`Fold, unfold the recipe or the strand`, group: 'board' },
  'edit-inside': { keys: 'e', label: t`Edit inside the recipe`, group: 'board' },

  'add-step': { keys: 'a, insert', label: t`Add a step`, group: 'step', prevents: true },
  'add-strand': { keys: 'shift+a, shift+insert', label: t`Add a strand`, group: 'step', prevents: true },
  values: { keys: 'enter', label: t`Go to the values of the step`, group: 'step' },
  'move-up': { keys: 'alt+up', label: t`Move the step up`, group: 'step', prevents: true },
  'move-down': { keys: 'alt+down', label: t`Move the step down`, group: 'step', prevents: true },
  bypass: { keys: 'y', label: t`Bypass the step`, group: 'step' },
  remove: { keys: 'delete', label: t`Remove the step`, group: 'step' },
  copy: { keys: 'mod+c', label: t`Copy the step`, group: 'step' },
  paste: { keys: 'mod+v', label: t`Paste the step`, group: 'step' },
  duplicate: { keys: 'd', label: t`Duplicate the step`, group: 'step' },
  undo: { keys: 'mod+z', label: t`Undo`, group: 'step', prevents: true },
  redo: { keys: 'mod+shift+z, mod+y', label: t`Redo`, group: 'step', prevents: true },

  'bypass-all': { keys: 'w', label: t`Bypass all steps`, group: 'viewer' },
  compare: { keys: 'c', label: t`Compare`, group: 'viewer' },
  flip: { keys: 'x', label: t`Flip to the other picture`, group: 'viewer' },
  scopes: { keys: 's', label: t`Scopes`, group: 'viewer' },
  matte: { keys: 'm', label: t`Matte: tint, outline, on black`, group: 'viewer' },
  region: { keys: 'r', label: t`Compute a region only`, group: 'viewer' },
  fit: { keys: 'f', label: t`Fit the picture`, group: 'viewer' },
  'full-size': { keys: '1', label: t`Picture at 100 %`, group: 'viewer' },
  references: { keys: 'q', label: t`Reference pictures`, group: 'viewer' },

  play: { keys: 'space', label: t`Play, stop`, group: 'time', prevents: true },
  'play-back': { keys: 'shift+space', label: t`Play backwards`, group: 'time', prevents: true },
  'frame-before': { keys: 'left', label: t`Frame before`, group: 'time', prevents: true },
  'frame-after': { keys: 'right', label: t`Frame after`, group: 'time', prevents: true },
  'first-frame': { keys: 'home', label: t`First frame that is played`, group: 'time', prevents: true },
  'last-frame': { keys: 'end', label: t`Last frame that is played`, group: 'time', prevents: true },
  in: { keys: 'i', label: t`Play from this frame`, group: 'time' },
  out: { keys: 'o', label: t`Play to this frame`, group: 'time' },
  'next-key': { keys: 'n', label: t`Next key`, group: 'time' },
  'key-before': { keys: 'p', label: t`Key before`, group: 'time' },
  mark: { keys: 'b', label: t`Mark the frame`, group: 'time' },
  'next-mark': { keys: 'shift+n', label: t`Next mark`, group: 'time' },
  'mark-before': { keys: 'shift+p', label: t`Mark before`, group: 'time' },
  drawer: { keys: 't', label: t`Time: lanes, curves, keys and guides`, group: 'time' },

  'next-area': { keys: 'j', label: t`Go to the next area`, group: 'screen' },
  arrangement: { keys: 'g', label: t`Board or viewer in the middle`, group: 'screen' },
  theatre: { keys: 'h', label: t`Theatre: the picture alone`, group: 'screen' },
  window: { keys: 'shift+h', label: t`Viewer in a window of its own`, group: 'screen' },
  keys: { keys: 'shift+?, ?', label: t`All keys`, group: 'screen', prevents: true },
} as const satisfies Record<string, Command>;

export type CommandId = keyof typeof commands;

const words: Record<string, string> = {
  mod: t`Ctrl`,
  up: '↑',
  down: '↓',
  left: '←',
  right: '→',
  insert: t`Ins`,
  delete: t`Del`,
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
