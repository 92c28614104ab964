/** What a page's family is guessed from. */
export interface FamilyHint {
  id: number;
  url: string;
  /** Class names and element names of the page's frame, where it was captured. */
  skeleton: ReadonlySet<string> | null;
}

/** Pages whose frames share this much are taken for one template. */
const SAME_TEMPLATE = 0.8;

/**
 * Guesses families: pages below one path ("/news/…") are one family, and so are pages whose structure is
 * nearly the same. A page that is like no other has no family.
 *
 * @returns the family's name for each page's id; '' for none
 */
export function guessFamilies(pages: readonly FamilyHint[]): Map<number, string> {
  const families = new Map<number, string>();
  const byPath = new Map<string, FamilyHint[]>();
  for (const page of pages) {
    const { origin, pathname } = new URL(page.url);
    const parent = pathname.replace(/\/+$/, '').split('/').slice(1, -1).join('/');
    if (!parent) continue;
    const key = `${origin}/${parent}`;
    byPath.set(key, [...(byPath.get(key) ?? []), page]);
  }
  for (const [key, members] of byPath) {
    if (members.length < 2) continue;
    const name = new URL(key).pathname.split('/').filter(Boolean).join(' / ');
    for (const member of members) families.set(member.id, name);
  }
  for (const page of pages) {
    if (families.has(page.id) || !page.skeleton) continue;
    const like = pages.find(
      (other) =>
        other.id !== page.id &&
        other.skeleton !== null &&
        new URL(other.url).origin === new URL(page.url).origin &&
        likeness(page.skeleton!, other.skeleton) >= SAME_TEMPLATE,
    );
    if (!like) continue;
    const name = families.get(like.id) ?? `like ${new URL(like.url).pathname}`;
    families.set(like.id, name);
    families.set(page.id, name);
  }
  return new Map(pages.map((page) => [page.id, families.get(page.id) ?? '']));
}

/** Share of what either has that both have, 0 to 1 (Jaccard index). */
function likeness(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  const both = [...a].filter((one) => b.has(one)).length;
  const either = a.size + b.size - both;
  return either === 0 ? 0 : both / either;
}
