import { DEFAULT_CONDITIONS_ID } from '@/core/measure/conditions';

/** What an address asks for. */
export type Asked = Promise<{ conditions?: string | string[] }>;

/** The conditions that an address asks for, or the default ones. */
export async function conditionsIn(asked: Asked): Promise<string> {
  const { conditions } = await asked;
  return (Array.isArray(conditions) ? conditions[0] : conditions) ?? DEFAULT_CONDITIONS_ID;
}
