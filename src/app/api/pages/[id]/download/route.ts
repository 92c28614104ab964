import { strToU8, zipSync } from 'fflate';
import { handoffFiles } from '@/usecases/views';
import { answer, orElse, readConditions, readId } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The hand-off as one archive: treated HTML, new and changed files, fold CSS, plan. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const handoff = orElse(
      await handoffFiles(database, readId((await params).id), await readConditions(request, database)),
      'The page was not measured yet: there is nothing to hand off.',
    );
    const archive = zipSync({
      'page.html': handoff.html,
      'plan.json': strToU8(JSON.stringify(handoff.plan, null, 2)),
      ...Object.fromEntries(handoff.files.map((file) => [file.name, strToU8(file.text)])),
    });
    return new Response(new Uint8Array(archive), {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': 'attachment; filename="handoff.zip"',
      },
    });
  });
