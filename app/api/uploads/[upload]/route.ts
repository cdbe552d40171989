import { answer } from '@/server/answer';
import { isFromHere, refusal } from '@/server/loopback';
import { uploaded, uploadedFolder } from '@/server/media/uploads';

type At = { params: Promise<{ upload: string }> };

/** What has come so far, so that an interrupted upload can go on; and the folder in which it lies. */
export const GET = (request: Request, { params }: At) =>
  isFromHere(request)
    ? answer(async () => {
        const { upload } = await params;
        return { folder: uploadedFolder(upload), files: uploaded(upload) };
      })
    : refusal();
