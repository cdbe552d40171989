/** Areas of the shot screen, in the order in which the keyboard goes through them. */
const areas = ['board', 'viewer', 'sheet', 'drawer', 'ribbon'] as const;

const reachable =
  'button:not([disabled]):not([tabindex="-1"]), select:not([disabled]), input:not([disabled]), textarea, summary, a[href], [tabindex="0"]';

/** The same without what one types into: from there the keys of the screen would not lead on. */
const withKeys = 'button:not([disabled]):not([tabindex="-1"]), summary, a[href], [tabindex="0"]';

const isSeen = (node: HTMLElement) => node.getClientRects().length > 0;
const firstIn = (area: Element | null, which = reachable): HTMLElement | undefined =>
  [...(area?.querySelectorAll<HTMLElement>(which) ?? [])].find(isSeen);

/** To the first value of the sheet: from there Tab goes on, and Esc leads back to the board. */
export function goToValues() {
  // What was selected just now has its sheet by the next picture of the screen.
  requestAnimationFrame(() => {
    const sheet = document.getElementById('sheet');
    (firstIn(sheet, '[data-value], [data-testid="sheet-values"] select') ?? firstIn(sheet))?.focus();
  });
}

/** To the selected card of the board. */
export const goToBoard = () =>
  (
    firstIn(document.getElementById('board'), '[data-card][data-selected=true]') ??
    firstIn(document.getElementById('board'))
  )?.focus();

/** To the next area that is there. */
export function goToNextArea() {
  const at = areas.findIndex((id) => document.getElementById(id)?.contains(document.activeElement));
  for (let i = 1; i <= areas.length; i++) {
    const id = areas[(at + i + areas.length) % areas.length];
    if (id === 'board' && firstIn(document.getElementById(id))) return goToBoard();
    const first = firstIn(document.getElementById(id), withKeys);
    if (first) return first.focus();
  }
}
