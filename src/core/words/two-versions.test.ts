import { expect, it } from 'vitest';
import { twoVersionsSentence, type TwoVersions } from './two-versions.ts';

const said = (apart: TwoVersions['apart'], files: string, pages: string) =>
  twoVersionsSentence({
    apart,
    urls: files.split(' ').map((name) => `https://quay.test/assets/${name}`),
    pages: pages.split(' '),
  });

it('says whose plans make something else of a file, and what to do', () => {
  expect(said('two files', 'site.css', 'Timetable')).toBe(
    'The plan of Timetable makes something else of site.css than this one, and only one can lie there. Whichever is put in last takes away what was proved for the other: switch the rules for it off on one page, or give one of the two another name in the file and in its tag.',
  );
});

it('says where either does', () => {
  expect(said('two fits', 'site.css type.css', 'Timetable Booking Crew')).toMatch(
    /^The plans of Timetable, Booking and Crew make something else of site\.css and type\.css than this one, and only one of each can lie there\. .* either one does for all\.$/,
  );
});

it('says which page was proved with a file unchanged that another plan changes', () => {
  expect(said('changed here', 'site.css', 'Crew')).toBe(
    'Crew loads site.css too, and was proved with it unchanged: measure and prove that page again once this is put in.',
  );
  expect(said('changed here', 'site.css type.css', 'Crew Booking')).toBe(
    'Crew and Booking load site.css and type.css too, and were proved with them unchanged: measure and prove those pages again once this is put in.',
  );
  expect(said('changed there', 'site.css', 'Crew')).toBe(
    'The plan of Crew changes site.css, and this page was proved with it unchanged: once that is put in, measure and prove this page again.',
  );
});
