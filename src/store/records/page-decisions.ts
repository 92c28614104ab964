import * as v from 'valibot';
import type { PageDecisions } from '../../core/treat/decisions.ts';
import { recordKind } from './record.ts';

const RULE = v.looseObject({ id: v.string(), kind: v.string(), treatment: v.string(), match: v.unknown() });

export const PAGE_DECISIONS = recordKind<PageDecisions>({
  what: 'What was decided for the page',
  todo: 'Go back to the recommended plan.',
  upgraders: [
    // A whole plan was kept: all its rules were as the user wanted them.
    ({ rules }) => ({
      rules,
      knew: Array.isArray(rules)
        ? rules.map(({ kind, match }: PageDecisions['knew'][number]) => ({ kind, match }))
        : [],
    }),
  ],
  shape: v.looseObject({
    rules: v.array(RULE),
    knew: v.array(v.looseObject({ kind: v.string(), match: v.unknown() })),
  }),
});
