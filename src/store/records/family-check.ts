import * as v from 'valibot';
import type { FamilyPage } from '../../core/words/family-check.ts';
import { recordKind } from './record.ts';

export interface FamilyCheckRecord {
  takenAt: string;
  pages: FamilyPage[];
}

export const FAMILY_CHECK = recordKind<FamilyCheckRecord>({
  what: 'What the plan came to on the family’s other pages',
  todo: 'Try it again.',
  upgraders: [],
  shape: v.looseObject({
    takenAt: v.string(),
    pages: v.array(
      v.looseObject({ name: v.string(), refused: v.array(v.unknown()), faults: v.array(v.unknown()) }),
    ),
  }),
});
