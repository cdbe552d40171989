import type { Strand } from '@/core/finish/finish';
import type { Kind } from '@/core/picture/kind';

/** Measures of the board, in CSS pixels at its full size. */
export const gutter = 52;
export const gap = 10;
export const headHeight = 112;
export const stepHeight = 50;
export const rowPitch = 74;
/** Above the heads stand the names of groups. */
const top = 24;
/** Position of the thread within its column. */
const threadInset = 15;
/** Widths of columns: a matte needs less room than a picture, and a folded strand is a line. */
const widths = { main: 128, picture: 122, slim: 102, folded: 30 };

/** A column: a strand, its left edge, and how wide it is. */
export type Column = { strand: Strand; x: number; width: number };

/** Strands of mattes and data are slimmer, and so are those that are a head alone. */
function widthOf({ folded, steps }: Strand, kind: Kind, isMain: boolean): number {
  if (folded) return widths.folded;
  if (isMain) return widths.main;
  return kind !== 'picture' || steps.length === 0 ? widths.slim : widths.picture;
}

/** The columns of strands in their order, from the left. */
export function columnsAlong(
  strands: readonly Strand[],
  kindOf: (s: Strand) => Kind,
  main: string,
): Column[] {
  let x = gutter;
  return strands.map((strand) => {
    const column = { strand, x, width: widthOf(strand, kindOf(strand), strand.id === main) };
    x += column.width + gap;
    return column;
  });
}

export const threadX = ({ x, strand }: Column) => x + (strand.folded ? widths.folded / 2 : threadInset);
/** Where the last column ends. */
export const endOf = (columns: readonly Column[]) => {
  const last = columns.at(-1);
  return last ? last.x + last.width + gap : gutter;
};
/** Top of a card by its row; row 0 is the heads, but for those that are split off further down. */
export const rowY = (row: number) => (row === 0 ? top : top + headHeight + 30 + (row - 1) * rowPitch);
export const bottomOf = (row: number) => rowY(row) + (row === 0 ? headHeight : stepHeight);
