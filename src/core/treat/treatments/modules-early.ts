import { attribute } from '../../html/markup.ts';
import type { PageScript } from '../../page/page-assets.ts';
import { fileNameOf } from '../../path/names.ts';
import { NO_SETTINGS, type Scene, type Treatment } from '../treatment.ts';

/** More than these are not asked for at once: they would stand in each other's way. */
const MOST = 20;

/** The modules that a module imports are asked for with the page: each would be found only once the one before is there. */
export const modulesEarly: Treatment<'script'> = {
  id: 'modules-early',
  kind: 'script',
  label: 'its modules asked for at once',
  risk: { level: 'low', why: 'files are asked for sooner, and nothing else changes' },
  settings: NO_SETTINGS,
  onlySooner: true,
  isFor: (script, scene) => modulesOf(script, scene).length > 0,
  refuses: () => null,
  note: () => 'they share the line with what else is on its way',
  contributes(script, scene) {
    const { attributes } = script.element.element;
    const same = (name: string) => attribute(name, attributes[name] ?? null);
    return {
      headTags: modulesOf(script, scene).map((url) => ({
        title: `${fileNameOf(url)}: asked for at once`,
        tag: `<link rel="modulepreload"${attribute('href', url)}${same('crossorigin')}${same('nonce')}>`,
      })),
    };
  },
};

/**
 * Addresses of all that a module imports, and that they import, as far as the capture holds them: nearest first. What
 * goes by a bare name is the import map's matter (HTML, "resolve a module specifier").
 */
export function modulesOf({ element: { url, module, element } }: PageScript, { page }: Scene): string[] {
  if (!module) return [];
  const { captured } = page;
  const found = new Set<string>();
  const look = (specifiers: readonly string[], from: string) => {
    for (const specifier of specifiers) {
      const address = /^(\.{0,2}\/|https?:)/.test(specifier) ? addressOf(specifier, from) : null;
      if (address === null || address === url || captured.exchange(address) === null) continue;
      found.add(address);
    }
  };
  if (url === null) look(captured.importsOf(element.text), captured.baseUrl);
  else look(captured.importsAt(url), url);
  // What is found on the way is looked at as well: a set goes on over what is added to it.
  for (const one of found) {
    if (found.size >= MOST) break;
    look(captured.importsAt(one), one);
  }
  return [...found].slice(0, MOST);
}

function addressOf(specifier: string, from: string): string | null {
  return URL.canParse(specifier, from) ? new URL(specifier, from).href : null;
}
