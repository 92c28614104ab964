import type { RuleKind } from '../plan.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Nothing is done: what every asset may be. */
export function asAuthored<K extends RuleKind>(kind: K): Treatment<K> {
  return {
    id: 'as-authored',
    kind,
    label: 'as authored',
    risk: { level: 'low', why: 'nothing is other than before' },
    settings: NO_SETTINGS,
    isFor: () => true,
    refuses: () => null,
    contributes: () => ({}),
  };
}
