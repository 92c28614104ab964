import { readOwnChecks } from '@/core/checks/own-check';
import { ownChecksText, saveOwnChecks } from '@/store/own-checks';
import { answer, readBody, readId, Refusal, readPage } from '../../../answer';
import { OWN_CHECKS } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => ownChecksText(database, readId((await params).id)));

/** Keeps checks of one's own, of a page and of its family; what was rehearsed without them is rehearsed again. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { id } = await readPage(database, params);
    const { page, family } = await readBody(request, OWN_CHECKS);
    try {
      readOwnChecks(page);
      readOwnChecks(family ?? '');
    } catch (error) {
      throw new Refusal(400, error instanceof Error ? error.message : String(error));
    }
    await saveOwnChecks(database, id, page, family ?? null);
    return ownChecksText(database, id);
  });
