import { deletePages, ensurePages, setFamilies } from '@/store/sites';
import { guessedFamilies } from '@/usecases/families';
import { answer, readBody } from '../../answer';
import { ADD_PAGES, MANY_PAGES, PUT_IN_FAMILY } from '../../schemas';

/** Adds many pages at once, all or none, and guesses their families. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { pages } = await readBody(request, ADD_PAGES);
    const added = await ensurePages(
      database,
      pages.map(({ url, name }) => ({ url, name: name ?? pathOf(url) })),
    );
    const ids = new Set(added.filter((page) => page.family === '').map((page) => page.id));
    const families = await guessedFamilies(database);
    await setFamilies(database, new Map([...families].filter(([id]) => ids.has(id))));
    return { added: added.length };
  });

/** Puts pages in a family, or in none. */
export const PATCH = (request: Request) =>
  answer(async (database) => {
    const { pageIds, family } = await readBody(request, PUT_IN_FAMILY);
    await setFamilies(database, new Map(pageIds.map((id) => [id, family])));
    return {};
  });

/** Deletes pages, all or none. */
export const DELETE = (request: Request) =>
  answer(async (database) => deletePages(database, (await readBody(request, MANY_PAGES)).pageIds));

function pathOf(url: string): string {
  const { pathname, search } = new URL(url);
  return pathname === '/' ? 'Home' : pathname + search;
}
