/** How elements of a captured page are named, wherever something is said of one. */

const escape = (text: string) => CSS.escape(text);

/** "img#hero", "img.wide": by its id, else by its first class. */
export function shortName(element: Element): string {
  const [first] = element.classList;
  return element.localName + (element.id ? `#${element.id}` : first ? `.${first}` : '');
}

/** A selector of the element by itself: its name, id and first two classes. */
export function ownSelector(element: Element): string {
  const classes = [...element.classList].slice(0, 2).map((name) => `.${escape(name)}`);
  return element.localName + (element.id ? `#${escape(element.id)}` : '') + classes.join('');
}

/** The same, told from siblings of its sort by its place among them. */
export function siblingSelector(element: Element): string {
  const name = ownSelector(element);
  if (element.id) return name;
  const twins = [...(element.parentElement?.children ?? [])].filter(
    (one) => one.localName === element.localName,
  );
  return twins.length > 1 ? `${name}:nth-of-type(${twins.indexOf(element) + 1})` : name;
}

/** A selector that says enough to be recognised: with its parent where it has neither id nor class. */
export function tellingSelector(element: Element): string {
  return element.id || element.classList.length || !element.parentElement
    ? ownSelector(element)
    : `${ownSelector(element.parentElement)} > ${ownSelector(element)}`;
}

/** The element at a place in the tree ("0.1.4"); undefined where there is none. */
export function elementAt(path: string): Element | undefined {
  let element: Element | undefined = document.documentElement;
  for (const index of path.split('.').slice(1)) element = element?.children[Number(index)];
  return element;
}

/** What a selector finds; nothing for one that is none. */
export function allBy(selector: string): Element[] {
  try {
    return [...document.querySelectorAll(selector)];
  } catch {
    return [];
  }
}
