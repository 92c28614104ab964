import type { PageMoments } from '../core/rehearse/moments.ts';
import { seenElements } from './outcome.ts';

let noted: PageMoments = { ready: null, load: null };

/** Notes what the document holds once it is ready, and once it has loaded: each after the page's own handlers. */
export function noteMoments(): void {
  const after = (moment: keyof PageMoments) => () =>
    setTimeout(() => {
      noted = { ...noted, [moment]: seenElements().map(({ name, text }) => `${name}|${text}`) };
    });
  addEventListener('DOMContentLoaded', after('ready'), { once: true });
  addEventListener('load', after('load'), { once: true });
}

export function notedMoments(): PageMoments {
  return noted;
}
