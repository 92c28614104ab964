import { analyseScript, namesReadBy, type ScriptFacts } from '../../scripts/analyse.ts';
import { handlersThatRead } from '../../treat/handlers.ts';
import type { PageAssets } from '../../page/page-assets.ts';
import { fileNameOf } from '../names.ts';
import { fewOf, type AssetTies, type Tie } from './ties.ts';

/** A script as something that defines and reads names. */
interface Reader {
  who: string;
  url: string | null;
  /** Line of the page on which an inline script begins; 1 for a file. */
  fromLine: number;
  facts: ScriptFacts;
}

/** What a script defines, which scripts and handlers of the page read it, and whose names it reads itself. */
export function scriptTies(page: PageAssets, url: string): AssetTies {
  const scripts = scriptsOf(page);
  const own = scripts.find((one) => one.url === url) ?? {
    who: fileNameOf(url),
    url,
    fromLine: 1,
    facts: analyseScript(page.captured.text(url)),
  };
  const others = scripts.filter((one) => one !== own);
  return {
    defines: own.facts.defines.length ? [{ what: 'global names', names: own.facts.defines }] : [],
    neededBy: [...others.flatMap((other) => readBy(other, own)), ...handlerTies(page, own.facts)],
    needs: others.flatMap((other) => {
      const names = readIn(own, other.facts).map((read) => read.name);
      return names.length ? [{ who: other.who, url: other.url, why: `defines ${fewOf(names)}` }] : [];
    }),
  };
}

function scriptsOf(page: PageAssets): Reader[] {
  return page.scripts.map(({ element, name, line, facts }) => ({
    who: element.url === null ? name : fileNameOf(element.url),
    url: element.url,
    fromLine: element.url === null ? line : 1,
    facts,
  }));
}

/** Names that a script reads and another one defines; those it defines itself are its own. */
function readIn({ facts }: Reader, { defines }: ScriptFacts): ScriptFacts['reads'] {
  return facts.reads.filter(({ name }) => defines.includes(name) && !facts.defines.includes(name));
}

function readBy(reader: Reader, definer: Reader): Tie[] {
  const reads = readIn(reader, definer.facts);
  if (reads.length === 0) return [];
  const first = Math.min(...reads.map((read) => read.line)) + reader.fromLine - 1;
  const names = fewOf(reads.map((read) => read.name));
  return [{ who: reader.who, url: reader.url, why: `reads ${names}, first on line ${first}` }];
}

/** Elements whose `on…` attributes read one of the names. */
function handlerTies(page: PageAssets, { defines }: ScriptFacts): Tie[] {
  return handlersThatRead(page, defines).map(({ tag, attribute, code, line }) => {
    const names = namesReadBy(code).filter((read) => defines.includes(read));
    return {
      who: `${attribute} of ${tag}, line ${line} of the page`,
      url: null,
      why: `reads ${fewOf(names)}`,
    };
  });
}
