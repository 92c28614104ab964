import postcss from 'postcss';
import type { PageAssets, PageScript } from './page-assets.ts';

/** An inline snippet that hides the page, and the scripts that end the hiding. */
export interface Hiding {
  snippet: PageScript;
  enders: PageScript[];
  /** The class that hides, or null when the snippet sets the style itself. */
  className: string | null;
}

const HIDES = /^(opacity|visibility|display)$/i;

/**
 * Finds snippets that hide the page until a script ends it: an inline script that puts a class on the root
 * which an inline style makes invisible (or sets the style itself), and external scripts that take that
 * class away or read a global that the snippet defines.
 */
export function findHiding(page: PageAssets): Hiding[] {
  const hidingClasses = classesThatHide(page);
  return page.scripts.flatMap((snippet): Hiding[] => {
    if (snippet.element.url !== null) return [];
    const className = snippet.facts.addsClasses.find((name) => hidingClasses.has(name)) ?? null;
    const direct = snippet.facts.findings.some((finding) => finding.what === 'hides-page');
    if (className === null && !direct) return [];
    const enders = page.scripts.filter(
      (script) =>
        script !== snippet &&
        script.element.url !== null &&
        ((className !== null && script.facts.removesClasses.includes(className)) ||
          script.facts.reads.some((read) => snippet.facts.defines.includes(read.name))),
    );
    return [{ snippet, enders, className }];
  });
}
/** Classes that make the root invisible, by a style tag or by style text in an inline script. */
function classesThatHide(page: PageAssets): Set<string> {
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
      for (const [, name] of rule.selector.matchAll(
        /(?:^|,)\s*(?:html|:root|body)?\.([\w-]+)(?:\s+body|\s*\*)?\s*(?=,|$)/g,
      )) {
        if (name) found.add(name);
      }
    });
  }
  return found;
}
