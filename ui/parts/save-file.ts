/** Hands a text, or bytes of any kind, to the browser as a file to save. */
export function saveFile(name: string, text: string | Blob, type = 'text/plain') {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(typeof text === 'string' ? new Blob([text], { type }) : text);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
