import { frameImage } from '@/store/measurements';
import { pictureImage } from '@/store/proofs';
import { answer, orElse, readId } from '../../../answer';

type Context = { params: Promise<{ kind: string; id: string }> };

/** A stored picture: a run's frame, or one of a proof or trial. Pictures never change. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const { kind, id } = await params;
    const image = kind === 'frame' ? await frameImage(database, readId(id)) : null;
    const picture = image
      ? { image, mimeType: 'image/jpeg' }
      : orElse(await pictureImage(database, readId(id)), 'There is no such picture.');
    return new Response(new Uint8Array(picture.image), {
      headers: {
        'content-type': picture.mimeType,
        'cache-control': 'private, max-age=31536000, immutable',
        'x-content-type-options': 'nosniff',
      },
    });
  });
