import { fileNameOf } from '../path/names.ts';

/** How what another page's plan does with a file goes with what this one's does. */
export type FileApart =
  /** Both make other files of it. */
  | 'two files'
  /** The same, but they differ in nothing but how fallbacks are fitted. */
  | 'two fits'
  /** This one changes it, and the other page takes it as it is. */
  | 'changed here'
  /** The other one changes it, and this page takes it as it is. */
  | 'changed there';

/** Files that this page's plan and those of other pages do not leave at one, in the same way. */
export interface TwoVersions {
  urls: string[];
  apart: FileApart;
  /** Names of those pages. */
  pages: string[];
}

/** What has to be known of such files before they are put in. */
export function twoVersionsSentence({ urls, apart, pages }: TwoVersions): string {
  const files = listed(urls.map(fileNameOf));
  const names = listed(pages);
  const several = pages.length > 1;
  const plan = several ? `The plans of ${names}` : `The plan of ${names}`;
  const it = urls.length > 1 ? 'them' : 'it';
  const only = urls.length > 1 ? 'only one of each can lie there' : 'only one can lie there';
  switch (apart) {
    case 'two files':
      return `${plan} ${several ? 'make' : 'makes'} something else of ${files} than this one, and ${only}. Whichever is put in last takes away what was proved for the other: switch the rules for ${it} off on one page, or give one of the two another name in the file and in its tag.`;
    case 'two fits':
      return `${plan} ${several ? 'make' : 'makes'} something else of ${files} than this one, and ${only}. They differ in nothing but how wide a fallback font is set for each page’s text: either one does for all.`;
    case 'changed here':
      return `${names} ${several ? 'load' : 'loads'} ${files} too, and ${several ? 'were' : 'was'} proved with ${it} unchanged: measure and prove ${several ? 'those pages' : 'that page'} again once this is put in.`;
    case 'changed there':
      return `${plan} ${several ? 'change' : 'changes'} ${files}, and this page was proved with ${it} unchanged: once that is put in, measure and prove this page again.`;
  }
}

/** "a, b and c". */
const listed = (all: readonly string[]) =>
  all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : all.join('');
