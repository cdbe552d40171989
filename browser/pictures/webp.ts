/** A picture on a canvas as WebP in Base64, no wider or higher than `most` pixels, with the size it has then. */
export async function webpOf(
  picture: ImageBitmap,
  most: number,
  quality: number,
): Promise<{ webp: string; width: number; height: number }> {
  const scale = Math.min(1, most / Math.max(picture.width, picture.height));
  const [width, height] = [picture.width, picture.height].map((n) => Math.max(1, Math.round(n * scale)));
  const canvas = new OffscreenCanvas(width, height);
  const g = canvas.getContext('2d')!;
  g.imageSmoothingQuality = 'high';
  g.drawImage(picture, 0, 0, width, height);
  const blob = await canvas.convertToBlob({ type: 'image/webp', quality });
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return { webp: btoa(text), width, height };
}
