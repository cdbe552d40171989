import * as v from 'valibot';
import { addressOf, errorSchema } from '@/api/contract';
import { readUpload, sendFile } from '@/api/files';
import { request } from '@/api/request';
import { t } from '../words/words';
import type { GivenFile } from './found';

const atOnce = 3;
const tries = 3;

/** Sends one file; `onBytes` hears how much has gone. */
function send(
  address: string,
  file: File,
  signal: AbortSignal,
  onBytes: (sent: number) => void,
): Promise<void> {
  return new Promise((done, failed) => {
    const sending = new XMLHttpRequest();
    const stop = () => sending.abort();
    signal.addEventListener('abort', stop);
    sending.upload.onprogress = (e) => onBytes(e.loaded);
    sending.onloadend = () => {
      signal.removeEventListener('abort', stop);
      if (sending.status === 200) return done();
      let said = '';
      try {
        const { error } = v.parse(errorSchema, JSON.parse(sending.responseText));
        said = [error.message, error.remedy].filter(Boolean).join(' ');
      } catch {
        // No answer, or none of ours.
      }
      const error = new Error(said || t`${file.name} could not be sent: the server does not answer.`);
      // What the server refuses it will refuse again.
      failed(Object.assign(error, { final: sending.status >= 400 && sending.status < 500 }));
    };
    sending.open('PUT', address);
    sending.setRequestHeader('x-zafiro-size', String(file.size));
    sending.send(file);
  });
}

export type Progress = { sent: number; total: number; files: number; of: number };

/**
 * Sends files to an upload on the server, a few at once; what it has already is not sent again, so an upload that was
 * interrupted goes on where it stopped. Returns their folder on the server.
 */
export async function sendFiles(
  upload: string,
  files: GivenFile[],
  signal: AbortSignal,
  onProgress: (p: Progress) => void,
): Promise<string> {
  const { folder, files: there } = await request(readUpload, { params: { upload } }, { signal });
  const total = files.reduce((sum, { file }) => sum + file.size, 0);
  const sent = new Map<string, number>();
  let finished = 0;
  const report = () =>
    onProgress({
      sent: [...sent.values()].reduce((a, b) => a + b, 0),
      total,
      files: finished,
      of: files.length,
    });
  const queue = [...files];
  const worker = async () => {
    for (let next = queue.shift(); next && !signal.aborted; next = queue.shift()) {
      const { path, file } = next;
      const address = addressOf(sendFile, { params: { upload, name: path } });
      for (let attempt = 1; there[path] !== file.size; attempt++) {
        try {
          await send(address, file, signal, (bytes) => {
            sent.set(path, bytes);
            report();
          });
          break;
        } catch (error) {
          if (attempt === tries || signal.aborted || (error as { final?: boolean }).final) throw error;
          await new Promise((again) => setTimeout(again, 500 * attempt));
        }
      }
      sent.set(path, file.size);
      finished++;
      report();
    }
  };
  await Promise.all(Array.from({ length: atOnce }, worker));
  if (signal.aborted)
    throw new Error(t`The import was stopped. What was sent is kept; import again to go on.`);
  return folder;
}
