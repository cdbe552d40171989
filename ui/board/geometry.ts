/** Measures of the board, in CSS pixels. */
export const gutter = 52;
export const column = 122;
export const gap = 9;
export const headHeight = 112;
export const stepHeight = 50;
export const rowPitch = 74;
const top = 12;
/** Position of the thread within its column. */
const threadInset = 15;

export const columnX = (i: number) => gutter + i * (column + gap);
export const threadX = (i: number) => columnX(i) + threadInset;
/** Top of a card by its row; row 0 is the heads, but for those that are split off further down. */
export const rowY = (row: number) => (row === 0 ? top : top + headHeight + 30 + (row - 1) * rowPitch);
export const bottomOf = (row: number) => rowY(row) + (row === 0 ? headHeight : stepHeight);
