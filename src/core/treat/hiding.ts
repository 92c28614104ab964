import postcss from 'postcss';
import type { PageAssets, PageScript } from '../page/page-assets.ts';
import { fileName } from './places.ts';
import type { Refusal } from './refusal.ts';

/** An inline snippet that hides the page, and the scripts that end the hiding. */
export interface Hiding {
  snippet: PageScript;
  enders: PageScript[];
  /** The class (`.name`) or attribute (`[name]`) that hides, or null when the snippet sets the style itself. */
  mark: string | null;
}

const HIDES = /^(opacity|visibility|display)$/i;

/** The root or the body by a class or an attribute of its own, or all that lies in it. */
const HIDES_PAGE = /^(?:html|:root|body)?(\.[\w-]+|\[[\w-]+\])(?:\s*>?\s*(?:body|\*))?$/i;

/**
 * Finds snippets that hide the page until a script ends it: an inline script that puts a class or an attribute on
 * the root which an inline style makes invisible (or sets the style itself), and external scripts that take it away
 * or read a global that the snippet defines.
 */
export function findHiding(page: PageAssets): Hiding[] {
  const hidingMarks = marksThatHide(page);
  return page.scripts.flatMap((snippet): Hiding[] => {
    if (snippet.element.url !== null) return [];
    const mark = snippet.facts.addsMarks.find((name) => hidingMarks.has(name)) ?? null;
    const direct = snippet.facts.findings.some((finding) => finding.what === 'hides-page');
    if (mark === null && !direct) return [];
    const enders = page.scripts.filter(
      (script) =>
        script !== snippet &&
        script.element.url !== null &&
        ((mark !== null && script.facts.removesMarks.includes(mark)) ||
          script.facts.reads.some((read) => snippet.facts.defines.includes(read.name))),
    );
    return [{ snippet, enders, mark }];
  });
}

/** The hiding that a script is part of; null for none. */
export function hidingOf(script: PageScript, { hidings }: { hidings: readonly Hiding[] }): Hiding | null {
  return hidings.find((one) => one.snippet === script || one.enders.includes(script)) ?? null;
}

/** Why the snippet of a script's hiding cannot be left out: a script of the page reads what it defines. */
export function hidingStays(
  script: PageScript,
  scene: { page: PageAssets; hidings: readonly Hiding[] },
): Extract<Refusal, { code: 'hiding-read' }> | null {
  const hiding = hidingOf(script, scene);
  if (!hiding) return null;
  for (const other of scene.page.scripts) {
    if (other === hiding.snippet) continue;
    const read = other.facts.reads.find(({ name }) => hiding.snippet.facts.defines.includes(name));
    if (read) return { code: 'hiding-read', reader: fileName(other), name: read.name };
  }
  return null;
}

/** Classes and attributes that make the page invisible, by a style tag. */
function marksThatHide(page: PageAssets): Set<string> {
  const found = new Set<string>();
  const texts = page.styles
    .filter((style) => style.element.url === null)
    .map((style) => style.element.element.text);
  for (const text of texts) {
    let root;
    try {
      root = postcss.parse(text);
    } catch {
      continue;
    }
    root.walkRules((rule) => {
      const hides = rule.nodes.some(
        (node) =>
          node.type === 'decl' &&
          HIDES.test(node.prop) &&
          /^(0(\.0+)?|hidden|none)\b/i.test(node.value.trim()),
      );
      if (!hides) return;
      for (const selector of rule.selector.split(',')) {
        const [, mark] = HIDES_PAGE.exec(selector.trim()) ?? [];
        if (mark) found.add(mark.toLowerCase().startsWith('[') ? mark.toLowerCase() : mark);
      }
    });
  }
  return found;
}
