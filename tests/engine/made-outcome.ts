import type { Outcome, SeenElement } from '../../src/core/rehearse/outcome.ts';

/** What a page has become, of its elements alone. */
export function madeOutcome(elements: SeenElement[], over: Partial<Outcome> = {}): Outcome {
  return { elements, globals: [], errors: [], requests: [], facts: [], roles: [], ...over };
}
