import { expect, it } from 'vitest';
import { titledAddress, type PageEmbed } from '@/core/embeds/page-embeds';
import { readHtml } from '@/core/html/document';
import { nameOf } from './rule-names';

const FILM = 'https://reel.test/film/12.html';
const ruleOf = (url: string) => ({ kind: 'embed', match: { url } }) as const;

function embedOf(title: string): PageEmbed {
  const { elements } = readHtml(new TextEncoder().encode(`<iframe src="${FILM}" title="${title}"></iframe>`));
  return { url: FILM, elements, aboveFold: false, picture: null };
}
const told = (title: string) => nameOf({ label: titledAddress([embedOf(title)], FILM), rule: ruleOf(FILM) });

it('calls an embed by its title, whatever that is, and by its file where it has none', () => {
  expect(told('Film of the crossing')).toBe('Film of the crossing');
  expect(told(' ')).toBe('12.html');
  expect(told('https:')).toBe('https:');
  expect(told('https:// the film')).toBe('https:// the film');
  expect(told('Ferry '.repeat(50))).toMatch(/^(Ferry ){10}…$/);
});

it('calls what else there is by its file or its host', () => {
  const url = 'https://quay.test:8443/js/lib.js?v=2';
  expect(nameOf({ label: url, rule: { kind: 'script', match: { url } } })).toBe('lib.js');
  const host = 'https://count.test:8443';
  expect(nameOf({ label: host, rule: { kind: 'host', match: { host } } })).toBe('count.test:8443');
});
