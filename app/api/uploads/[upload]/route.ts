import { readUpload } from '@/api/files';
import { fromHere } from '@/server/access/loopback';
import { answer } from '@/server/http/answer';
import { uploaded, uploadedFolder } from '@/server/media/uploads';

/** The files received so far, so that an interrupted upload can continue, and their folder. */
export const GET = fromHere(
  answer(readUpload, async ({ params: { upload } }) => ({
    folder: uploadedFolder(upload),
    files: uploaded(upload),
  })),
);
