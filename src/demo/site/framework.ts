import postcss from 'postcss';

/** The demo's own colours in place of a framework's defaults: hexadecimal ones, and the same as three numbers. */
const COLOURS: readonly [from: string, to: string][] = [
  ['#0d6efd', '#2b6470'],
  ['#0b5ed7', '#24555f'],
  ['#0a58ca', '#1f4a53'],
  ['#0a53be', '#1b424a'],
  ['#86b7fe', '#8fb4ba'],
  ['#6c757d', '#66706c'],
  ['#198754', '#5d7236'],
  ['#dc3545', '#a8452c'],
  ['#ffc107', '#c9a66b'],
  ['#0dcaf0', '#7fb7be'],
  ['#212529', '#22333b'],
  ['#f8f9fa', '#f4f0e6'],
  ['#dee2e6', '#ddd5c4'],
];

/**
 * A general framework's stylesheet under names and colours of the demo's own: its size and its shape are what makes
 * the demo slow for an ordinary reason, its looks are nobody's business. Its licence is served beside it.
 *
 * @param prefix of its classes and custom properties
 */
export function houseFramework(css: string, prefix: string): string {
  const root = postcss.parse(css.replace(/^\s*@charset[^;]*;/, ''));
  root.walkComments((comment) => {
    comment.remove();
  });
  root.walkRules((rule) => {
    rule.selector = rule.selector
      .replace(/\.(-?[a-z_][\w-]*)/gi, `.${prefix}-$1`)
      .replace(/\[data-[a-z]+-/g, `[data-${prefix}-`);
  });
  root.walkDecls((declaration) => {
    declaration.prop = declaration.prop.replace(/^--[a-z]+-/, `--${prefix}-`);
    declaration.value = recoloured(declaration.value).replace(/var\(--[a-z]+-/g, `var(--${prefix}-`);
  });
  return `/* licences: /assets/licences.txt */\n${root.toString()}`;
}

function recoloured(value: string): string {
  let out = value;
  for (const [from, to] of COLOURS) {
    out = out.replaceAll(from, to).replaceAll(from.replace('#', '%23'), to.replace('#', '%23'));
    out = out.replaceAll(numbers(from), numbers(to)).replaceAll(numbers(from, ', '), numbers(to, ', '));
  }
  return out;
}

function numbers(colour: string, between = ','): string {
  return [1, 3, 5].map((at) => parseInt(colour.slice(at, at + 2), 16)).join(between);
}
