/** Where a file stands behind an element, and how large it is to be there. */
export interface BackgroundBox {
  /** The address of the file. */
  url: string;
  /** What it is placed in, CSS px: where it stays while the page is scrolled, the viewport. */
  box: { width: number; height: number };
  /** As the element's style says it (CSS Backgrounds 3, "background-size"). */
  size: string;
}

const OF_ELEMENT = [null, '::before', '::after'] as const;

/** Every file behind an element that is laid out, or behind what a style puts before or after its content. */
export function backgroundBoxes(): BackgroundBox[] {
  const found: BackgroundBox[] = [];
  for (const element of document.querySelectorAll('html, body, body *')) {
    const own = element.getBoundingClientRect();
    if (!(own.width > 0)) continue;
    for (const pseudo of OF_ELEMENT) {
      const style = getComputedStyle(element, pseudo);
      if (!style.backgroundImage.includes('url(')) continue;
      const [sizes, attachments] = [style.backgroundSize, style.backgroundAttachment].map(layersOf);
      layersOf(style.backgroundImage).forEach((layer, index) => {
        const url = /^url\("(.*)"\)$/.exec(layer)?.[1];
        if (url === undefined) return;
        const stays = attachments![index % attachments!.length] === 'fixed';
        const box = stays ? { width: innerWidth, height: innerHeight } : boxOf(own, pseudo, style);
        found.push({ url, box, size: sizes![index % sizes!.length]! });
      });
    }
  }
  return found;
}

/** What has no box of its own that can be asked for is as large as its style says, or as what it stands in. */
function boxOf({ width, height }: DOMRect, pseudo: string | null, style: CSSStyleDeclaration) {
  if (pseudo === null) return { width, height };
  return { width: parseFloat(style.width) || width, height: parseFloat(style.height) || height };
}

/** A list's parts, at the commas outside of parentheses and quotes. */
function layersOf(list: string): string[] {
  const parts = list.match(/(?:[^,("]|"(?:[^"\\]|\\.)*"|\((?:[^()"]|"(?:[^"\\]|\\.)*"|\([^()]*\))*\))+/g);
  return (parts ?? []).map((one) => one.trim());
}

/** Where files stand behind elements that treating put beside others, CSS px of the page. */
export function lighterBehind(
  folder: string,
): { left: number; top: number; width: number; height: number }[] {
  const selectors = new Set<string>();
  for (const sheet of document.styleSheets) collect(rulesIn(sheet), folder, selectors);
  return [`[style*="${folder}"]`, ...selectors].flatMap((selector) =>
    elementsFor(selector).map((element) => {
      const { left, top, width, height } = element.getBoundingClientRect();
      return { left: left + scrollX, top: top + scrollY, width, height };
    }),
  );
}

/** Rules of another host's sheet are nobody's to read. */
function rulesIn(sheet: CSSStyleSheet): CSSRuleList | null {
  try {
    return sheet.cssRules;
  } catch {
    return null;
  }
}

function collect(rules: CSSRuleList | null, folder: string, into: Set<string>): void {
  for (const rule of rules ?? []) {
    if (rule instanceof CSSStyleRule && rule.style.backgroundImage.includes(folder))
      into.add(rule.selectorText);
    if (rule instanceof CSSImportRule) {
      if (rule.styleSheet) collect(rulesIn(rule.styleSheet), folder, into);
    } else if (rule instanceof CSSGroupingRule || rule instanceof CSSStyleRule)
      collect(rule.cssRules, folder, into);
  }
}

function elementsFor(selector: string): Element[] {
  try {
    return [...document.querySelectorAll(selector.replace(/::?(before|after)\b/g, ''))];
  } catch {
    // Another rule within it speaks of it: the whole page is taken for it.
    return [document.documentElement];
  }
}
