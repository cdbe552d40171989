import { readUpload } from '@/api/files';
import { answer } from '@/server/answer';
import { fromHere } from '@/server/loopback';
import { uploaded, uploadedFolder } from '@/server/media/uploads';

/** What has come so far, so that an interrupted upload can go on; and the folder in which it lies. */
export const GET = fromHere(
  answer(readUpload, async ({ params: { upload } }) => ({
    folder: uploadedFolder(upload),
    files: uploaded(upload),
  })),
);
