import { saveFile } from '../parts/save-file';

/** A picture of a contact sheet, to be kept or shown elsewhere. */

type SheetCell = { name: string; words: string; bitmap?: ImageBitmap };

const [cellWidth, gap, margin, caption] = [640, 24, 40, 44];

/** Draws the cells in rows that are about as wide as high, each as large as the others, and hands the PNG to the browser. */
export async function saveSheet(title: string, cells: readonly SheetCell[], file: string): Promise<void> {
  const columns = Math.max(1, Math.ceil(Math.sqrt(cells.length)));
  const rows = Math.ceil(cells.length / columns);
  const ratio = Math.max(...cells.map(({ bitmap }) => (bitmap ? bitmap.height / bitmap.width : 9 / 16)));
  const cellHeight = Math.round(cellWidth * ratio);
  const width = 2 * margin + columns * cellWidth + (columns - 1) * gap;
  const height = 2 * margin + 40 + rows * (cellHeight + caption) + (rows - 1) * gap;
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.fillStyle = '#161616';
  context.fillRect(0, 0, width, height);
  const font = getComputedStyle(document.body).fontFamily;
  context.fillStyle = '#e8e8e8';
  context.font = `600 26px ${font}`;
  context.fillText(title, margin, margin + 12);
  cells.forEach(({ name, words, bitmap }, i) => {
    const x = margin + (i % columns) * (cellWidth + gap);
    const y = margin + 40 + Math.floor(i / columns) * (cellHeight + caption + gap);
    if (bitmap) {
      const h = Math.round((cellWidth * bitmap.height) / bitmap.width);
      context.drawImage(bitmap, x, y + Math.round((cellHeight - h) / 2), cellWidth, h);
    }
    context.fillStyle = '#e8e8e8';
    context.font = `600 20px ${font}`;
    context.fillText(name, x, y + cellHeight + 28);
    const after = x + context.measureText(name).width + 14;
    context.fillStyle = '#9a9a9a';
    context.font = `18px ${font}`;
    context.fillText(words, after, y + cellHeight + 28);
  });
  saveFile(file, await canvas.convertToBlob({ type: 'image/png' }));
}
