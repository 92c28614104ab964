import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';
import { VISIT_KINDS, type VisitKind } from '@/core/measure/visit';

/** What an address asks for. */
export type Asked = Promise<{ conditions?: string | string[]; visit?: string | string[] }>;

/** The conditions that an address asks for, or the default ones. */
export async function conditionsIn(asked: Asked): Promise<string> {
  return first((await asked).conditions) ?? DEFAULT_CONDITIONS_ID;
}

/** The visit that an address asks for, or the first one. */
export async function visitIn(asked: Asked): Promise<VisitKind> {
  const visit = first((await asked).visit);
  return VISIT_KINDS.find((one) => one === visit) ?? 'first';
}

function first(given: string | string[] | undefined): string | undefined {
  return Array.isArray(given) ? given[0] : given;
}
