import type { PageAssets, PageScript } from '../page/page-assets.ts';
import type { PageEmbed } from './page-embeds.ts';

/** A script that works with an embed: where it says so. */
export interface WorksWith {
  script: PageScript;
  /** Line of its text, from 1. */
  line: number;
  /** What it goes by: an id, a name, a class, or `iframe` for any. */
  by: string;
}

/** Shorter ones are words of anything. */
const LEAST_LENGTH = 3;
/** A script that looks for embeds as such; one that only makes its own does not. */
const ANY_EMBED =
  /(?:querySelector(?:All)?|getElementsByTagName|closest|matches|\$|jQuery)\(\s*["'`][^"'`\n]{0,80}\biframe\b/;

/**
 * The first script that names an embed, or looks for any: it may speak to what is in it, or wait for it. Null where no
 * text that the page loads does; of a script that was not captured nothing is known, and the page's own rehearsal is
 * what it is held to.
 */
export function worksWith({ scripts, captured }: PageAssets, embed: PageEmbed): WorksWith | null {
  const names = namesOf(embed);
  const own = names.length ? new RegExp(`(?<![\\w-])(?:${names.map(escaped).join('|')})(?![\\w-])`) : null;
  for (const script of scripts) {
    const { url, element } = script.element;
    const text = url === null ? element.text : (captured.text(url) ?? '');
    const found = own?.exec(text) ?? ANY_EMBED.exec(text);
    if (!found) continue;
    const line = text.slice(0, found.index).split('\n').length;
    return { script, line, by: names.find((one) => found[0] === one) ?? 'iframe' };
  }
  return null;
}

function namesOf({ elements }: PageEmbed): string[] {
  const found = elements.flatMap(({ attributes }) => [
    attributes['id'] ?? '',
    attributes['name'] ?? '',
    ...(attributes['class'] ?? '').split(/\s+/),
  ]);
  return [...new Set(found)].filter((one) => one.length >= LEAST_LENGTH);
}

function escaped(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}
