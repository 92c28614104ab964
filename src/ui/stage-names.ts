import type { StageKey } from '@/usecases/page-view';

/** The stages of a page, in their order: they are the navigation. */
export const STAGES: readonly { key: StageKey; name: string }[] = [
  { key: 'measure', name: 'Measure' },
  { key: 'map', name: 'Map' },
  { key: 'fold', name: 'Fold CSS' },
  { key: 'treat', name: 'Treat' },
  { key: 'prove', name: 'Prove' },
  { key: 'handoff', name: 'Hand off' },
];

export function isStage(text: string): text is StageKey {
  return STAGES.some((stage) => stage.key === text);
}
