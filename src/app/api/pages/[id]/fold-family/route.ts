import { chooseForFamily } from '@/store/fold-settings';
import { answer, readBody, Refusal, readPage } from '../../../answer';
import { FAMILY_CHOICE } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Chooses, for the family of a page, one set or each its own; null follows the recommendation. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = await readPage(database, params);
    if (!page.family) throw new Refusal(400, `${page.name} is in no family.`);
    const { choice } = await readBody(request, FAMILY_CHOICE);
    await chooseForFamily(database, page.siteId, page.family, choice);
    return { choice };
  });
