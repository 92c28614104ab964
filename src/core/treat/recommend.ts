import { hostOf, ownerOf } from '../path/party.ts';
import { bytes } from '../path/words.ts';
import { findHiding, whySnippetStays } from './hiding.ts';
import { deferGroup, handlersThatRead, offersFor, policyRefusal, readersOf } from './legal.ts';
import type { PageAssets, PageScript } from './page-assets.ts';
import { matchText, RISKS, type Match, type Plan, type PlanRule, type Risk, type Treatment } from './plan.ts';

/** A font file that a stylesheet declares and the run asked for. */
export interface PageFont {
  url: string;
  family: string;
  /** The sheet that declares it. */
  sheetUrl: string;
  display: string | null;
  party: 'first' | 'third';
  aboveFold: boolean;
}

/** What of the fold CSS the plan needs to know. */
export interface FoldFacts {
  /** Addresses of the sheets that have fold CSS. */
  sheets: { url: string; keptRules: number; rules: number; foldBytes: number }[];
  proved: boolean;
}

/**
 * The recommended plan: a starting point, each rule with its reason and risk. Rules beyond the wished risk
 * are there but switched off.
 */
export function recommendPlan(
  page: PageAssets,
  fonts: readonly PageFont[],
  fold: FoldFacts | null,
  upTo: Risk = 'medium',
): Plan {
  const rules: PlanRule[] = [];
  const add = (
    kind: PlanRule['kind'],
    match: Match,
    treatment: Treatment,
    risk: Risk,
    reason: string,
    together: Match[] = [],
  ) => {
    if (rules.some((rule) => rule.kind === kind && matchText(rule.match) === matchText(match))) return;
    rules.push({
      id: `r${rules.length + 1}`,
      on: RISKS.indexOf(risk) <= RISKS.indexOf(upTo),
      kind,
      match,
      scope: 'page',
      treatment,
      reason,
      risk,
      ...(together.length ? { together } : {}),
    });
  };
  stylesheetRules(page, fold, add);
  scriptRules(page, add);
  fontRules(fonts, add);
  hostRules(page, fonts, rules, add);
  return { wistrelPlan: 1, page: page.documentUrl, rules };
}

type Add = (
  kind: PlanRule['kind'],
  match: Match,
  treatment: Treatment,
  risk: Risk,
  reason: string,
  together?: Match[],
) => void;

function stylesheetRules(page: PageAssets, fold: FoldFacts | null, add: Add): void {
  const refused = policyRefusal(page, 'fold-css-late');
  for (const style of page.styles) {
    const url = style.element.url;
    if (url === null) continue;
    const own = fold?.sheets.find((sheet) => sheet.url === url);
    if (style.element.printOnly)
      add('stylesheet', style.match, 'as-authored', 'low', 'For print only: it never blocked rendering.');
    else if (own && refused)
      add('stylesheet', style.match, 'as-authored', 'high', `Its fold CSS would not apply: ${refused}.`);
    else if (own && fold?.proved) {
      const share = `${own.keptRules} of its ${own.rules.toLocaleString('en-GB')} rules concern the fold at one of the viewports chosen for it (${bytes(own.foldBytes)})`;
      add(
        'stylesheet',
        style.match,
        'fold-css-late',
        'low',
        `It blocks rendering; ${share}. They go inline, the sheet arrives late.`,
      );
    } else if (own) {
      add(
        'stylesheet',
        style.match,
        'as-authored',
        'high',
        'Its fold CSS is not proved: it stays until you decide.',
      );
    } else
      add('stylesheet', style.match, 'as-authored', 'low', 'No fold CSS was made for it: generate it first.');
  }
}

function scriptRules(page: PageAssets, add: Add): void {
  const done = new Set<PageScript>();
  for (const hiding of findHiding(page)) {
    done.add(hiding.snippet);
    for (const ender of hiding.enders) done.add(ender);
    const [ender] = hiding.enders;
    const refused = policyRefusal(page, 'delay');
    if (refused) {
      add(
        'script',
        hiding.snippet.match,
        'as-authored',
        'high',
        `It hides the page, and cannot go: ${refused}.`,
      );
      continue;
    }
    if (!ender) {
      add(
        'script',
        hiding.snippet.match,
        'as-authored',
        'high',
        'It hides the page, and no script that ends the hiding was found: left alone.',
      );
      continue;
    }
    // Such a pair tests variants: what visitors are shown is not for a recommendation to decide.
    const stays = whySnippetStays(page, hiding);
    add(
      'script',
      ender.match,
      'as-authored',
      'high',
      `The snippet at line ${hiding.snippet.line} hides the page until this script has run. Both belong together: ${
        stays
          ? `they stay, as ${stays}.`
          : 'delayed by your decision, the hiding is left out and the script runs after the first interaction.'
      }`,
      [hiding.snippet.match, ...hiding.enders.slice(1).map((one) => one.match)],
    );
  }

  for (const script of page.scripts) {
    if (done.has(script)) continue;
    const third = script.party === 'third' || script.inserts.length > 0;
    if (!third) continue;
    done.add(script);
    const whose = script.inserts[0]
      ? `It puts in a script of ${ownerOf(script.inserts[0])}`
      : `A script of ${ownerOf(script.name)}`;
    if (script.facts.speaksOfConsent) {
      const offer = offersFor(page, script).find((one) => one.treatment === 'defer');
      if (script.blocking && script.element.url !== null && offer && !offer.refused) {
        add(
          'script',
          script.match,
          'defer',
          'low',
          `${whose} that asks for consent: never delayed, but it need not block the parser.`,
        );
      } else
        add('script', script.match, 'as-authored', 'low', `${whose} that asks for consent: never delayed.`);
      continue;
    }
    const delay = offersFor(page, script).find((one) => one.treatment === 'delay');
    if (delay?.refused) {
      add('script', script.match, 'as-authored', 'medium', `${whose}; not delayed: ${delay.refused}.`);
      continue;
    }
    add(
      'script',
      script.match,
      'delay',
      'medium',
      `${whose} that nothing above the fold needs: it runs after the first interaction.`,
    );
    // Inline scripts that read what a delayed script defines wait with it.
    for (const reader of readersOf(page, script)) {
      if (reader.element.url !== null || done.has(reader)) continue;
      done.add(reader);
      add(
        'script',
        reader.match,
        'delay',
        'medium',
        `It reads what ${ownerOf(script.name)} defines, so it waits with it.`,
      );
    }
  }

  const candidates = page.scripts.filter(
    (script) => !done.has(script) && script.element.url !== null && script.blocking,
  );
  const group = deferGroup(page, candidates);
  for (const script of candidates) {
    const refused = group.refused.get(script);
    if (refused) {
      add('script', script.match, 'as-authored', 'low', `Not deferred: ${refused}.`);
      continue;
    }
    const readers = group.moved.filter((moved) =>
      moved.facts.reads.some((read) => script.facts.defines.includes(read.name)),
    );
    const [handler] = handlersThatRead(page, script.facts.defines);
    const risk: Risk = readers.length || handler ? 'medium' : 'low';
    const why = readers.length
      ? `The parser waits for it; ${readers.length} inline ${readers.length === 1 ? 'script that reads it moves' : 'scripts that read it move'} after it.`
      : 'The parser waits for it, and nothing reads what it defines while the page is parsed.';
    const early = handler
      ? ` ${handler.attribute} of ${handler.tag}, line ${handler.line}, reads it: what is done there before it has run fails.`
      : '';
    add('script', script.match, 'defer', risk, why + early);
  }
  for (const moved of group.moved) {
    add(
      'script',
      moved.match,
      'after-libraries',
      'medium',
      'It reads a deferred library: it becomes an external deferred file, in its order (defer does nothing inline).',
    );
  }
}

function fontRules(fonts: readonly PageFont[], add: Add): void {
  for (const font of fonts) {
    if (font.party === 'third') continue;
    const swaps = font.display !== null && /^(swap|fallback|optional)$/i.test(font.display);
    if (font.aboveFold) {
      add(
        'font',
        { url: font.url },
        swaps ? 'preload' : 'swap-preload',
        'low',
        `“${font.family}” paints text above the fold and was found only in a stylesheet.`,
      );
    } else if (!swaps) {
      add(
        'font',
        { url: font.url },
        'swap',
        'low',
        `Text in “${font.family}” would stay invisible while the file is on its way.`,
      );
    }
  }
}

function hostRules(page: PageAssets, fonts: readonly PageFont[], rules: readonly PlanRule[], add: Add): void {
  const early = new Set<string>();
  const own = hostOf(page.documentUrl);
  for (const font of fonts)
    if (font.aboveFold && hostOf(font.url) !== own) early.add(new URL(font.url).origin);
  for (const script of page.scripts) {
    const url = script.element.url;
    if (url === null || hostOf(url) === own) continue;
    const rule = rules.find(
      (one) => matchText(one.match) === url || one.together?.some((match) => matchText(match) === url),
    );
    if (rule && (rule.treatment === 'as-authored' || rule.treatment === 'defer') && script.blocking)
      early.add(new URL(url).origin);
  }
  for (const origin of early) {
    add(
      'host',
      { host: origin },
      'preconnect',
      'low',
      'Still needed early, from another host: connected to ahead, its round trips are over when it is asked.',
    );
  }
}
