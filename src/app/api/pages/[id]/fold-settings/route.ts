import type { FoldSettings } from '@/core/fold/settings';
import { foldSettingsOf, saveFoldSettings } from '@/store/fold-settings';
import { answer, readBody, readId, readPage } from '../../../answer';
import { FOLD_SETTINGS } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => foldSettingsOf(database, readId((await params).id)));

/** Saves how a page's fold CSS is made: it holds from the next time on, and stays. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const page = await readPage(database, params);
    const { viewports, ...settings } = await readBody(request, FOLD_SETTINGS);
    const saved: FoldSettings = {
      ...settings,
      viewports: viewports.map(({ foldHeight, ...one }) => ({
        ...one,
        ...(foldHeight ? { foldHeight } : {}),
      })),
    };
    await saveFoldSettings(database, page.id, saved);
    return saved;
  });
