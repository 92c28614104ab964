import { elementAt } from './names.ts';

/** Which of the queries the page's viewport meets; preferences, hover and pointer count as met. */
export function liveMedia(queries: string[]): boolean[] {
  return queries.map((query) => {
    if (/hover|pointer|prefers-|forced-colors|resolution|device-pixel-ratio/.test(query))
      return !/^\s*print\b/.test(query);
    return matchMedia(query).matches;
  });
}

/** How the browser itself reads sheets: which selector lists it rejects, and the outline of each text. */
export function readAsBrowser(asked: {
  texts: string[];
  lists: string[];
  nestedLists: string[];
  /** Prefixes that @namespace rules declare: a selector with another one is rejected. */
  namespaces: string[];
}): { rejected: string[]; outlines: string[] } {
  const declared = asked.namespaces.map((prefix) => `@namespace ${prefix} "x";`).join('');
  const sheet = new CSSStyleSheet();
  const rejects = (text: string, nested: boolean) => {
    try {
      sheet.replaceSync(declared + (nested ? `x{${text}{color:red}}` : `${text}{color:red}`));
      const outer = sheet.cssRules[asked.namespaces.length];
      return nested
        ? !(outer && 'cssRules' in outer && (outer as CSSStyleRule).cssRules.length === 1)
        : sheet.cssRules.length !== asked.namespaces.length + 1;
    } catch {
      return true;
    }
  };
  return {
    rejected: [
      ...asked.lists.filter((list) => rejects(list, false)),
      ...asked.nestedLists.filter((list) => rejects(list, true)),
    ],
    outlines: asked.texts.map((text) => {
      sheet.replaceSync(text);
      return outline(sheet.cssRules);
    }),
  };
}

const KINDS: [string, string][] = [
  ['CSSStyleRule', 'r'],
  ['CSSMediaRule', '@media'],
  ['CSSSupportsRule', '@supports'],
  ['CSSContainerRule', '@container'],
  ['CSSLayerBlockRule', '@layer'],
  ['CSSScopeRule', '@scope'],
  ['CSSStartingStyleRule', '@starting-style'],
];

function outline(rules: CSSRuleList): string {
  let text = '';
  for (const rule of rules) {
    const kind = KINDS.find(([name]) => rule.constructor.name === name)?.[1];
    if (!kind) continue;
    const inside = outline((rule as CSSGroupingRule).cssRules);
    text += kind + (inside ? `{${inside}}` : ';');
  }
  return text;
}

/**
 * What the browser reads from each sheet: for every context, selector and property, the value that stands.
 * Two sheets with the same settings say the same.
 */
export function settingsOf(texts: string[]): [key: string, value: string][][] {
  const sheet = new CSSStyleSheet();
  return texts.map((text) => {
    const found = new Map<string, string>();
    try {
      sheet.replaceSync(text);
      gather(found, sheet.cssRules, '');
    } catch {
      // A text that no sheet can be made of says nothing.
    }
    return [...found];
  });
}

type Settings = Map<string, string>;

function gather(found: Settings, rules: CSSRuleList, context: string): void {
  for (const rule of rules) {
    const { cssText } = rule;
    const head = cssText.slice(0, Math.max(0, cssText.indexOf('{'))).trim();
    if (rule instanceof CSSStyleRule) {
      for (const selector of partsOf(rule.selectorText)) {
        addSettings(found, `${context}\n${selector}`, rule.style);
        gather(found, rule.cssRules, `${context}\n${selector}`);
      }
    } else if (rule.constructor.name === 'CSSNestedDeclarations')
      addSettings(found, context, (rule as unknown as CSSStyleRule).style);
    else if ('style' in rule) addSettings(found, `${context}\n${head}`, rule.style as CSSStyleDeclaration);
    else if ('cssRules' in rule) gather(found, rule.cssRules as CSSRuleList, `${context}\n${head}`);
  }
}

function addSettings(found: Settings, head: string, style: CSSStyleDeclaration): void {
  for (const property of style)
    found.set(`${head}\n${property}`, style.getPropertyValue(property) + style.getPropertyPriority(property));
}

/** The selectors of a list, as the browser writes it. */
function partsOf(list: string): string[] {
  const parts: string[] = [];
  let [depth, from] = [0, 0];
  for (let at = 0; at < list.length; at++) {
    const character = list[at];
    if (character === '\\') at++;
    else if (character === '"')
      for (at++; at < list.length && list[at] !== '"'; at++) at += Number(list[at] === '\\');
    else if (character === '(' || character === '[') depth++;
    else if (character === ')' || character === ']') depth--;
    else if (character === ',' && depth === 0) {
      parts.push(list.slice(from, at).trim());
      from = at + 1;
    }
  }
  return [...parts, list.slice(from).trim()];
}

/** The last rule of the page's sheets that sets a property on an element: what a set without it lacks. */
export function ruleSetting(asked: { path: string; property: string }): {
  selector: string;
  sheet: string;
} | null {
  const element = elementAt(asked.path);
  if (!element) return null;
  let found: { selector: string; sheet: string } | null = null;
  const look = (rules: CSSRuleList, sheet: string): void => {
    for (const rule of rules) {
      if (rule instanceof CSSMediaRule && !matchMedia(rule.conditionText).matches) continue;
      if (
        rule instanceof CSSStyleRule &&
        rule.style.getPropertyValue(asked.property) !== '' &&
        element.matches(rule.selectorText.replace(/::?(before|after)\b/g, '') || '*')
      )
        found = { selector: rule.selectorText, sheet };
      if (rule instanceof CSSImportRule && rule.styleSheet) look(rule.styleSheet.cssRules, rule.href);
      else if ('cssRules' in rule) look(rule.cssRules as CSSRuleList, sheet);
    }
  };
  for (const sheet of document.styleSheets) {
    try {
      look(sheet.cssRules, sheet.href ?? '');
    } catch {
      // A sheet of another origin shows its rules to nobody.
    }
  }
  return found;
}
