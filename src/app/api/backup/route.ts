import { Readable } from 'node:stream';
import { downloadName } from '@/core/words/download-name';
import { backUpOpen } from '@/store/backup';
import { applicationDatabase, dataFolder } from '@/usecases/application';
import { answer, Refusal } from '../answer';

/** All that is stored as one file, while the application goes on. */
export const GET = () =>
  answer(async () => {
    const { sizeBytes, content } = await backUpOpen(await applicationDatabase(), dataFolder()).catch(
      (error: unknown) => {
        const why = error instanceof Error ? error.message : String(error);
        throw new Refusal(
          500,
          `What is stored could not be copied: ${why}. Nothing stored was changed. The copy takes more room than the database does: make some where ${dataFolder()} is, or end the application and write the backup to another disk with ./wistrel backup FILE.`,
        );
      },
    );
    const name = downloadName('wistrel', 'backup', 'tgz', new Date());
    return new Response(Readable.toWeb(content) as ReadableStream<Uint8Array>, {
      headers: {
        'content-type': 'application/gzip',
        'content-length': String(sizeBytes),
        'content-disposition': `attachment; filename="${name}"`,
      },
    });
  });
