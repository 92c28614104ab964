import { Readable } from 'node:stream';
import { downloadName } from '@/core/words/download-name';
import { backUpOpen } from '@/store/backup';
import { applicationDatabase, dataFolder } from '@/usecases/application';
import { answer } from '../answer';

/** All that is stored as one file, while the application goes on. */
export const GET = () =>
  answer(async () => {
    const packed = await backUpOpen(await applicationDatabase(), dataFolder());
    const name = downloadName('wistrel', 'backup', 'tgz', new Date());
    return new Response(Readable.toWeb(packed) as ReadableStream<Uint8Array>, {
      headers: {
        'content-type': 'application/gzip',
        'content-disposition': `attachment; filename="${name}"`,
      },
    });
  });
