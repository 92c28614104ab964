import { ensurePage } from '@/store/sites';
import { answer, readBody } from '../answer';
import { ADD_PAGE } from '../schemas';

/** Adds a page by its address, and its site when it is new. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { url, name, siteName } = await readBody(request, ADD_PAGE);
    const path = new URL(url).pathname;
    return ensurePage(database, url, name ?? (path === '/' ? 'Home' : path), siteName);
  });
