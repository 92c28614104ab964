/**
 * Finds what of many is at fault: first among those that are likeliest, each by itself; then by halving, and where only
 * two together fail, the one without which they do not.
 *
 * @param suspects the likeliest of them
 * @param fails whether some of them, by themselves, show the fault; all together do
 */
export async function findFault<T>(
  all: readonly T[],
  suspects: readonly T[],
  fails: (some: readonly T[]) => Promise<boolean>,
): Promise<T | null> {
  if (all.length === 0) return null;
  if (all.length === 1) return all[0]!;
  const failed = await Promise.all(suspects.map((one) => fails([one])));
  const found = suspects.find((_one, index) => failed[index]);
  if (found !== undefined) return found;
  const middle = all.length >> 1;
  for (const half of [all.slice(0, middle), all.slice(middle)])
    if (await fails(half)) return findFault(half, [], fails);
  for (const one of all) if (!(await fails(all.filter((other) => other !== one)))) return one;
  return all[0]!;
}
