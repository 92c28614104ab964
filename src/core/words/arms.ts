import { AS_IS, type ArmId } from '../trial/arms.ts';

/** What an arm is called on screens. */
export function armName(id: ArmId): string {
  return id === AS_IS ? 'as is' : id;
}
