import { AS_IS, IDEAL, OTHER_PLAN, type ArmId } from '../trial/arms.ts';

/** What an arm is called on screens. @param isAsIs whether a trial held the page against itself as it is, not against another plan */
export function armName(id: ArmId, isAsIs = true): string {
  if (id === OTHER_PLAN) return 'with the other plan';
  if (id === IDEAL) return 'the ideal page';
  if (id !== AS_IS) return id;
  return isAsIs ? 'as is' : 'with the other plan';
}
