import { readSteps } from '@/core/measure/visit';
import { areSecretsLost, saveSettings, secretsOf, settingsOf } from '@/store/settings';
import { answer, readBody, readId, Refusal, readPage } from '../../../answer';
import { PAGE_SETTINGS } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** How a page is measured. Of secrets only their names are told. */
export const GET = (_request: Request, { params }: Context) =>
  answer(async (database) => {
    const id = readId((await params).id);
    const [settings, secrets, areLost] = await Promise.all([
      settingsOf(database, id),
      secretsOf(database, id),
      areSecretsLost(database, id),
    ]);
    return {
      ...settings,
      headerNames: secrets.headers.map(([name]) => name),
      cookieNames: secrets.cookies.map(({ name }) => name),
      areSecretsLost: areLost,
    };
  });

/** Saves how a page is measured. Secrets that are not sent stay as they are. */
export const PUT = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { id } = await readPage(database, params);
    const { secrets, ...settings } = await readBody(request, PAGE_SETTINGS);
    try {
      readSteps(settings.steps);
    } catch (error) {
      throw new Refusal(400, error instanceof Error ? error.message : String(error));
    }
    await saveSettings(database, id, settings, secrets ?? null);
    return { saved: true };
  });
