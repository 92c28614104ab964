import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { ArmFiles } from '../replay/messages.ts';
import { overridesOf } from '../replay/overrides.ts';
import type { TrialRequest } from './trial.ts';

/** What each arm of a trial is served. */
export function armsOf({
  capture,
  asIs,
  treated,
  beside,
  answers,
}: Pick<TrialRequest, 'capture' | 'asIs' | 'treated' | 'beside' | 'answers'>): ArmFiles[] {
  const arm = (name: ArmId, page: Pick<TreatedPage, 'html' | 'files'>) => ({
    name,
    overrides: overridesOf(capture.documentUrl, page, answers),
  });
  return [arm(AS_IS, asIs), arm(TREATED, treated), ...beside.map(({ id, page }) => arm(id, page))];
}
