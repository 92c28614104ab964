import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { WebDriver } from 'selenium-webdriver';
import type chrome from 'selenium-webdriver/chrome.js';

/** How a screen is looked at. */
export interface Glass {
  width: number;
  dark: boolean;
}

export async function lookThrough(driver: WebDriver, { width, dark }: Glass): Promise<void> {
  const tools = driver as chrome.Driver;
  await tools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
  await tools.sendDevToolsCommand('Emulation.setEmulatedMedia', {
    features: [{ name: 'prefers-color-scheme', value: dark ? 'dark' : 'light' }],
  });
}

/** What is wrong with the looks of the screen as it stands, each as a person would point at it; none where it is well. */
export function faultsOf(driver: WebDriver): Promise<string[]> {
  return driver.executeScript(findFaults);
}

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What an accessibility checker finds: names, roles, contrast of 4.5:1. */
export async function accessibilityFaults(driver: WebDriver): Promise<string[]> {
  await driver.executeScript(`if (!window.axe) { ${AXE} }`);
  return driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    axe.run(document, { resultTypes: ['violations'] }).then(
      ({ violations }) => done(violations.flatMap(({ id, nodes }) =>
        nodes.slice(0, 4).map((node) => id + ': ' + node.target.join(' ') + ' ' +
          [...node.any, ...node.all, ...node.none].map((one) => one.message).join('; ').slice(0, 200)))),
      (error) => done(['the checker failed: ' + error]));`);
}

/** Runs in the page. */
function findFaults(): string[] {
  const LEAST_SIZE = 11;
  const LEAST_EDGE = 8;
  /** Letters that touch by less are of lines that stand close. */
  const OVERLAP = 3;
  const faults: string[] = [];
  const pointAt = (element: Element) => {
    const text = (element.textContent ?? '').replace(/\s+/g, ' ').trim().slice(0, 40);
    const { id, className } = element;
    const named = id
      ? `#${id}`
      : typeof className === 'string' && className
        ? `.${className.split(' ')[0]}`
        : '';
    return `${element.localName}${named} “${text}”`;
  };
  const root = document.documentElement;
  /** What of a text is within all that cuts off what overflows it. */
  const seenPart = (element: Element, text: DOMRect) => {
    let { left, right, top, bottom } = text;
    for (let up: Element | null = element; up && up !== document.body; up = up.parentElement) {
      if (getComputedStyle(up).overflowX === 'visible') continue;
      const edge = up.getBoundingClientRect();
      [left, right] = [Math.max(left, edge.left), Math.min(right, edge.right)];
      [top, bottom] = [Math.max(top, edge.top), Math.min(bottom, edge.bottom)];
    }
    return new DOMRect(left, top, Math.max(0, right - left), Math.max(0, bottom - top));
  };
  if (root.scrollWidth > innerWidth) faults.push(`the page is ${root.scrollWidth - innerWidth} px too wide`);

  const headings = [...document.querySelectorAll('h1')].filter((one) => one.getClientRects().length > 0);
  if (headings.length !== 1) faults.push(`there are ${headings.length} main headings`);

  // What a place cuts off, its own scrolling aside: what is shortened says all of it when pointed at.
  for (const element of document.querySelectorAll('body *')) {
    if (element.closest('svg, .cm-editor, [aria-hidden=true]')) continue;
    const style = getComputedStyle(element);
    // Drawn strips are cut (`clip`) at the ends of the time that is in view.
    if (style.overflowX !== 'hidden' || element.clientWidth < 2 || style.clipPath !== 'none') continue;
    if (element.closest('[title]') || element.querySelector('[title]')) continue;
    if (!(element.textContent ?? '').trim()) continue;
    const over = element.scrollWidth - element.clientWidth;
    if (over > 1) faults.push(`${over} px cut off: ${pointAt(element)}`);
  }

  interface Text {
    element: Element;
    box: DOMRect;
  }
  const texts: Text[] = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  const tooSmall = new Set<Element>();
  while (walker.nextNode()) {
    const node = walker.currentNode;
    const element = node.parentElement;
    if (!element || !node.nodeValue?.trim() || /^(script|style|noscript)$/.test(element.localName)) continue;
    const style = getComputedStyle(element);
    if (!element.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true })) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const whole of range.getClientRects()) {
      const box = seenPart(element, whole);
      if (box.width < 2 || box.height < 2) continue;
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      // Only what is to be seen: not what is scrolled away, or lies under something.
      const top = document.elementFromPoint(x, y);
      if (!top || !(top === element || top.contains(element) || element.contains(top))) continue;
      if (parseFloat(style.fontSize) < LEAST_SIZE) tooSmall.add(element);
      if (box.left < LEAST_EDGE || box.right > innerWidth - LEAST_EDGE)
        faults.push(
          `${Math.round(Math.min(box.left, innerWidth - box.right))} px from the window’s edge: ${pointAt(element)}`,
        );
      texts.push({ element, box });
    }
  }
  for (const element of tooSmall)
    faults.push(`${getComputedStyle(element).fontSize} letters: ${pointAt(element)}`);

  texts.sort((a, b) => a.box.top - b.box.top);
  texts.forEach(({ element, box }, index) => {
    for (const other of texts.slice(index + 1)) {
      if (other.box.top > box.bottom) break;
      const wide = Math.min(box.right, other.box.right) - Math.max(box.left, other.box.left);
      const high = Math.min(box.bottom, other.box.bottom) - Math.max(box.top, other.box.top);
      if (wide > OVERLAP && high > OVERLAP && element !== other.element)
        faults.push(`two texts overlap: ${pointAt(element)} and ${pointAt(other.element)}`);
    }
  });
  return [...new Set(faults)];
}
