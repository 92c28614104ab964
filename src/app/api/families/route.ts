import { setFamilies } from '@/store/sites';
import { guessedFamilies } from '@/usecases/families';
import { answer } from '../answer';

/** Guesses the families of all pages anew, from addresses and structure. */
export const POST = () =>
  answer(async (database) => {
    const families = await guessedFamilies(database);
    await setFamilies(database, families);
    return { families: new Set([...families.values()].filter(Boolean)).size };
  });
