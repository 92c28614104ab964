import { REPEATS_PER_RUN } from '../../core/measure/quality.ts';

/** How often a rejected run may be made again, for each run wanted; tests, which time nothing, set it to 0. */
export function repeatsPerRun(): number {
  const given = process.env['WISTREL_REPEATS'];
  return given === undefined ? REPEATS_PER_RUN : Number(given) || 0;
}
