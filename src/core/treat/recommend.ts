import { broughtBy } from '../path/brought-by.ts';
import type { PageData } from '../data/page-data.ts';
import { embedName, type PageEmbed } from '../embeds/page-embeds.ts';
import { bytesNow, bytesOn, LAPTOP, PHONE } from '../images/lighter.ts';
import { isMostlyEmbedded, tooMuchInline } from '../fold/budget.ts';
import type { PageFont } from '../fonts/page-fonts.ts';
import type { PageImage } from '../images/page-images.ts';
import { documentRequest } from '../measure/run.ts';
import type { PageScript, PageStyle } from '../page/page-assets.ts';
import { hintedPage, hintsInVain } from '../hints/own-hints.ts';
import { fileNameOf, hostOf } from '../path/names.ts';
import { ownerOf, partyOf } from '../path/party.ts';
import { bytes, capital, ms } from '../path/words.ts';
import { EMBEDDED_FILES } from '../words/embedded-files.ts';
import { inVainWords, vainHintFacts } from '../words/hints.ts';
import { refusalWords } from '../words/refusals.ts';
import { answersTouch } from './answers-touch.ts';
import { handlersThatRead } from './handlers.ts';
import { hidingStays, type Hiding } from './hiding.ts';
import { settle, type Choices } from './legal.ts';
import { loneRefusal } from './lone.ts';
import { matchText, RISKS, type Match, type Plan, type PlanRule, type Risk, type RuleKind } from './plan.ts';
import { policyRefusal } from './policy.ts';
import type { Scene, Treatment } from './treatment.ts';
import { dataEarly } from './treatments/data-early.ts';
import { embedLate } from './treatments/embed-late.ts';
import { embedOnPress } from './treatments/embed-on-press.ts';
import { fontSubset } from './treatments/font-subset.ts';
import { imageLighter } from './treatments/image-lighter.ts';
import { importsEarly, importsOf } from './treatments/imports-early.ts';
import { inlineScript } from './treatments/inline-script.ts';
import { inlineSheet, wholeOf } from './treatments/inline-sheet.ts';
import { minifiedScriptFile } from './treatments/minified-script.ts';
import { minifiedSheet } from './treatments/minified-sheet.ts';
import { modulesEarly, modulesOf } from './treatments/modules-early.ts';
import { mediaOf, ownMedia } from './treatments/own-media.ts';
import { preconnect } from './treatments/preconnect.ts';
import { prefetch } from './treatments/prefetch.ts';
import { scriptEarly } from './treatments/script-early.ts';
import { waits } from './treatments/waits.ts';

/**
 * The recommended plan: a starting point, each rule with its reason and risk. Rules beyond the wished risk
 * are there but switched off.
 */
export function recommendPlan(scene: Scene, upTo: Risk = 'medium'): Plan {
  const rules = new Rules(upTo);
  for (const style of scene.page.styles) adviseSheet(scene, style, rules);
  new ScriptAdvice(scene, rules).give();
  for (const font of scene.fonts) {
    adviseFont(scene, font, rules);
    adviseFontFile(scene, font, rules);
  }
  for (const image of scene.images) {
    adviseImage(scene, image, rules);
    adviseImageFile(scene, image, rules);
  }
  for (const embed of scene.embeds) adviseEmbed(scene, embed, rules);
  for (const data of scene.data) adviseData(scene, data, rules);
  adviseHosts(scene, rules);
  adviseNext(scene, rules);
  return { wistrelPlan: 1, page: scene.page.documentUrl, rules: rules.all };
}

interface Advice {
  treatment: string;
  risk: Risk;
  reason: string;
  together?: Match[];
  /** It gains nothing for this page, and costs something: off until the user switches it on. */
  optional?: boolean;
}

/** Rules as they are put together: the first one about an asset counts. */
class Rules {
  readonly all: PlanRule[] = [];
  #upTo: Risk;

  constructor(upTo: Risk) {
    this.#upTo = upTo;
  }

  add(
    kind: RuleKind,
    match: Match,
    { treatment, risk, reason, together = [], optional = false }: Advice,
  ): void {
    const text = matchText(match);
    if (this.all.some((rule) => rule.kind === kind && matchText(rule.match) === text)) return;
    this.all.push({
      id: `r${this.all.length + 1}`,
      on: !optional && RISKS.indexOf(risk) <= RISKS.indexOf(this.#upTo),
      kind,
      match,
      scope: 'page',
      treatment,
      reason,
      risk,
      ...(together.length ? { together } : {}),
    });
  }
}

const asAuthored = (risk: Risk, reason: string): Advice => ({ treatment: 'as-authored', risk, reason });

function adviseSheet(scene: Scene, style: PageStyle, rules: Rules): void {
  if (style.element.url !== null) rules.add('stylesheet', style.match, sheetAdvice(scene, style));
}

function sheetAdvice(scene: Scene, style: PageStyle): Advice {
  const { page, fold, foldUsable } = scene;
  const { element } = style;
  if (element.printOnly) return asAuthored('low', 'For print only: it never blocked rendering.');
  const own = fold.find((sheet) => sheet.url === element.url);
  if (!own) {
    const why = {
      code: page.captured.text(element.url!) === null ? 'sheet-not-captured' : 'no-fold-css',
    } as const;
    return without(scene, style, asAuthored('low', `${capital(refusalWords(why))}.`));
  }
  const policy = policyRefusal(page, [['style'], ['handler', 'script']]);
  if (policy)
    return without(
      scene,
      style,
      asAuthored('high', `Its fold CSS would not apply: ${refusalWords(policy)}.`),
    );
  if (!foldUsable)
    return without(
      scene,
      style,
      asAuthored('high', 'Its fold CSS is not proved: it stays until you decide.'),
    );
  const tooMuch = tooMuchInline(own.css, page.captured.text(own.url) ?? '');
  if (tooMuch)
    return without(
      scene,
      style,
      asAuthored(
        'low',
        `Its fold CSS, ${bytes(tooMuch.bytes)} compressed, is ${Math.round(tooMuch.share * 100)} % of it, and in the HTML no cache holds it. ${isMostlyEmbedded(own.css) ? EMBEDDED_FILES : 'Say in Fold CSS what to give up.'}`,
      ),
    );
  const share = own.rules
    ? `${own.keptRules} of its ${own.rules.toLocaleString('en-GB')} rules concern the fold at one of the viewports chosen for it (${bytes(own.foldBytes)}). They go inline`
    : `it styles nothing by itself, as one that only declares fonts. What the fold needs of it (${bytes(own.foldBytes)}) goes inline`;
  return {
    treatment: 'fold-css-late',
    risk: 'low',
    reason: `It blocks rendering; ${share}, the sheet arrives late.`,
  };
}

/** What is left for a sheet whose fold CSS cannot be used. */
function without(scene: Scene, style: PageStyle, { reason }: Advice): Advice {
  const open = (treatment: Treatment<'stylesheet'>) =>
    treatment.isFor(style, scene) && treatment.refuses(style, scene) === null;
  if (open(ownMedia))
    return {
      treatment: ownMedia.id,
      risk: 'low',
      reason: `${reason} All of its rules stand under ${mediaOf(style, scene)}: where that does not match, nothing waits for it.`,
    };
  if (open(inlineSheet))
    return {
      treatment: inlineSheet.id,
      risk: 'low',
      reason: `${reason} It is small (${bytes(wholeOf(style, scene)!.css.length)}): inline it blocks as before, without being asked for.`,
    };
  if (open(importsEarly))
    return {
      treatment: importsEarly.id,
      risk: 'low',
      reason: `${reason} What it imports (${importsOf(style, scene).map(fileNameOf).join(', ')}) is found only once it is there: asked for at once, the chain is one step long.`,
    };
  if (open(minifiedSheet))
    return {
      treatment: minifiedSheet.id,
      risk: 'low',
      reason: `${reason} Without its comments and white space it applies as it did, and is there sooner.`,
    };
  return asAuthored('low', reason);
}

/** What is advised for the scripts of a page: those of others first, then those that hold the parser. */
class ScriptAdvice {
  #scene: Scene;
  #rules: Rules;
  #chosen: Choices = new Map();
  /** Why scripts of others are not delayed; what less may be done is tried after. */
  #notDelayed = new Map<PageScript, string>();
  #done = new Set<PageScript>();

  constructor(scene: Scene, rules: Rules) {
    this.#scene = scene;
    this.#rules = rules;
  }

  give(): void {
    for (const hiding of this.#scene.hidings) this.#hiding(hiding);
    this.#delays();
    this.#blocking();
    this.#modules();
  }

  #add(script: PageScript, advice: Advice): void {
    this.#rules.add('script', script.match, advice);
  }

  /** Such a pair tests variants: what visitors are shown is not for a recommendation to decide. */
  #hiding({ snippet, enders }: Hiding): void {
    for (const script of [snippet, ...enders]) this.#done.add(script);
    const policy = policyRefusal(this.#scene.page, [['script']]);
    const [ender, ...others] = enders;
    if (policy)
      this.#add(snippet, asAuthored('high', `It hides the page, and cannot go: ${refusalWords(policy)}.`));
    else if (!ender)
      this.#add(
        snippet,
        asAuthored('high', 'It hides the page, and no script that ends the hiding was found: left alone.'),
      );
    else {
      const stays = hidingStays(snippet, this.#scene);
      const early = scriptEarly.isFor(ender, this.#scene);
      const why = `The snippet at line ${snippet.line} hides the page until this script has run. Both belong together: ${
        stays
          ? `they stay, as ${refusalWords(stays)}.`
          : 'delayed by your decision, the hiding is left out and the script runs after the first interaction.'
      }`;
      this.#add(ender, {
        ...(early
          ? {
              treatment: scriptEarly.id,
              risk: 'low',
              reason: `${why} Browsers take it that nothing waits for it: it is asked for ahead of others.`,
            }
          : asAuthored('high', why)),
        together: [snippet.match, ...others.map((one) => one.match)],
      });
    }
  }

  /** Of others' scripts as many as can wait together for the first interaction. */
  #delays(): void {
    const candidates = this.#scene.page.scripts.filter(
      (script) => !this.#done.has(script) && (script.party === 'third' || script.inserts.length > 0),
    );
    const wished = candidates.filter((script) => {
      const why = script.facts.speaksOfConsent ? ASKS_FOR_CONSENT : neededAtOnce(script);
      if (why !== null) this.#notDelayed.set(script, why);
      return why === null;
    });
    const settled = settle(this.#scene, this.#chosen, new Map(wished.map((one) => [one, 'delay'])));
    for (const script of wished) {
      const refusal = settled.refused.get(script);
      if (refusal) this.#notDelayed.set(script, `not delayed: ${refusalWords(refusal)}`);
      else
        this.#delayed(
          script,
          `${whose(script)} that nothing above the fold needs: it runs after the first interaction.`,
        );
    }
    for (const [reader, followed] of settled.moved)
      if (!this.#done.has(reader))
        this.#delayed(reader, `It reads what ${ownerOf(followed.name)} defines, so it waits with it.`);
    this.#chosen = settled.choices;
    this.#afterPaint();
  }

  /** What others insert or load beside the page, and may not wait for a visitor, waits for the first content. */
  #afterPaint(): void {
    const candidates = [...this.#notDelayed.keys()].filter(
      (script) => !script.facts.speaksOfConsent && (!script.blocking || script.element.url === null),
    );
    const settled = settle(this.#scene, this.#chosen, new Map(candidates.map((one) => [one, 'after-paint'])));
    if (settled.moved.size) return;
    this.#chosen = settled.choices;
    for (const script of candidates) {
      if (settled.refused.has(script)) continue;
      const why = this.#notDelayed.get(script);
      this.#notDelayed.delete(script);
      this.#done.add(script);
      this.#add(script, {
        treatment: 'after-paint',
        risk: 'medium',
        reason: `${whose(script)}; ${why}. The first content does not need it: it runs once that is on screen.`,
      });
    }
  }

  #delayed(script: PageScript, reason: string): void {
    this.#done.add(script);
    this.#add(script, { treatment: 'delay', risk: 'medium', reason });
  }

  /** Of what holds the parser as much as can be deferred together. */
  #blocking(): void {
    const candidates = this.#scene.page.scripts.filter(
      (script) => !this.#done.has(script) && script.element.url !== null && script.blocking,
    );
    const settled = settle(this.#scene, this.#chosen, new Map(candidates.map((one) => [one, 'defer'])));
    for (const script of candidates) {
      const refusal = settled.refused.get(script);
      const others = this.#notDelayed.get(script);
      const before = others === undefined ? '' : `${whose(script)}; ${others}. `;
      if (refusal) {
        this.#add(script, this.#inPlace(script, `${before}Not deferred: ${refusalWords(refusal)}.`));
        continue;
      }
      const advice = this.#deferred(
        script,
        [...settled.moved.keys()].filter((moved) =>
          moved.facts.reads.some((read) => script.facts.defines.includes(read.name)),
        ),
      );
      this.#add(script, { ...advice, reason: before + advice.reason });
    }
    for (const moved of [...settled.moved.keys()].sort((a, b) => a.line - b.line)) {
      const stays = settled.choices.get(moved) === waits.id;
      this.#add(moved, {
        treatment: stays ? waits.id : 'after-libraries',
        risk: 'medium',
        reason: `It reads a deferred library: ${
          stays
            ? 'it stays inline, as it holds what is of one visit, and runs in its order after that'
            : 'it becomes an external deferred file, in its order (defer does nothing inline)'
        }.`,
      });
    }
    for (const [script, why] of this.#notDelayed)
      if (!candidates.includes(script)) this.#add(script, asAuthored('medium', `${whose(script)}; ${why}.`));
  }

  /** One's own modules that import others. */
  #modules(): void {
    for (const script of this.#scene.page.scripts) {
      const names = script.party === 'first' ? modulesOf(script, this.#scene).map(fileNameOf) : [];
      if (names.length === 0 || this.#done.has(script)) continue;
      this.#add(script, {
        treatment: modulesEarly.id,
        risk: 'low',
        reason: `It imports ${listed(names)}, found only once what imports ${names.length === 1 ? 'it' : 'them'} is there: asked for at once, the chain is one step long.`,
      });
    }
  }

  /** What is left for a script that has to run where it stands. */
  #inPlace(script: PageScript, why: string): Advice {
    const open = (treatment: Treatment<'script'>) =>
      treatment.isFor(script, this.#scene) && treatment.refuses(script, this.#scene) === null;
    if (open(inlineScript))
      return {
        treatment: inlineScript.id,
        risk: 'low',
        reason: `${why} It is small: inline it runs where it did, and is not waited for.`,
      };
    if (open(minifiedScriptFile))
      return {
        treatment: minifiedScriptFile.id,
        risk: 'low',
        reason: `${why} Without its comments and white space it does the same, and is there sooner.`,
      };
    return asAuthored('low', why);
  }

  #deferred(script: PageScript, readers: readonly PageScript[]): Advice {
    const [handler] = handlersThatRead(this.#scene.page, script.facts.defines);
    const why = readers.length
      ? `The parser waits for it; ${readers.length} inline ${readers.length === 1 ? 'script that reads it moves' : 'scripts that read it move'} after it.`
      : 'The parser waits for it, and nothing reads what it defines while the page is parsed.';
    const early = handler
      ? ` ${handler.attribute} of ${handler.tag}, line ${handler.line}, reads it: what is done there before it has run fails.`
      : '';
    return { treatment: 'defer', risk: readers.length || handler ? 'medium' : 'low', reason: why + early };
  }
}

/** The first few names, and how many more. */
function listed(names: readonly string[]): string {
  const more = names.length - 4;
  return more > 0 ? `${names.slice(0, 4).join(', ')} and ${more} more` : names.join(', ');
}

const ASKS_FOR_CONSENT = 'it asks for consent: never delayed';

function whose(script: PageScript): string {
  return script.inserts[0]
    ? `It puts in a script of ${ownerOf(script.inserts[0])}`
    : `A script of ${ownerOf(script.name)}`;
}

/** Why a script is needed at a visitor's first touch; null where it is not. */
function neededAtOnce(script: PageScript): string | null {
  const answer = answersTouch(script);
  return answer && `not delayed: it changes the page when a visitor does something (line ${answer.line})`;
}

/** More files than these ahead of all else crowd what they are to paint with. */
const MOST_PRELOADED = 3;

function adviseFont(scene: Scene, font: PageFont, rules: Rules): void {
  if (font.party === 'third') return;
  const match = { url: font.url };
  const may = (id: string) => loneRefusal(scene, 'font', match, id) === null;
  const isSwapped = /^swap$/i.test(font.display ?? '');
  const maySwap = !isSwapped && !/^(fallback|optional)$/i.test(font.display ?? '') && may('swap');
  const mayFit = (maySwap || isSwapped) && may('swap-fitted');
  const fitted = mayFit
    ? ' Until it has come, a font of the system stands in for it, set as wide and as high, so that little moves.'
    : '';
  const preloaded = rules.all.filter(
    (one) => one.kind === 'font' && one.treatment.includes('preload'),
  ).length;
  const isCrowded = preloaded >= MOST_PRELOADED;
  if (font.aboveFold && !isCrowded && may('preload'))
    rules.add('font', match, {
      treatment: mayFit ? 'swap-preload-fitted' : maySwap ? 'swap-preload' : 'preload',
      risk: 'low',
      reason: `“${font.family}” paints text above the fold and is found only once styles are read.${fitted}`,
    });
  else if (maySwap)
    rules.add('font', match, {
      treatment: mayFit ? 'swap-fitted' : 'swap',
      risk: 'low',
      reason: `Text in “${font.family}” would stay invisible while the file is on its way.${
        font.aboveFold && isCrowded ? ` ${MOST_PRELOADED} others are asked for ahead of it.` : ''
      }${fitted}`,
    });
}

/** The same letters in fewer bytes: what was made is a fifth lighter at least. */
function adviseFontFile(scene: Scene, { url, smaller, icons }: PageFont, rules: Rules): void {
  const match = { url };
  if (!smaller || loneRefusal(scene, 'font-file', match, fontSubset.id)) return;
  rules.add('font-file', match, {
    treatment: fontSubset.id,
    risk: fontSubset.risk.level,
    reason: `Its file is ${bytes(smaller.bytes)}; with ${
      icons
        ? 'the signs that the captured pages show'
        : 'the letters that the captured pages show, and those of western Europe,'
    } it is ${bytes(smaller.smaller.bytes)}. Any other sign asks for the whole file.`,
  });
}

/** The first screen's largest comes early and those below late; all of them with room kept, where that is not so. */
function adviseImage(scene: Scene, image: PageImage, rules: Rules): void {
  const give = (ids: readonly string[], risk: Risk, reason: string): boolean => {
    const match = { url: image.url };
    const treatment = ids.find((id) => loneRefusal(scene, 'image', match, id) === null);
    if (treatment) rules.add('image', match, { treatment, risk, reason });
    return treatment !== undefined;
  };
  const isGiven = image.isLargest
    ? give(
        ['early-with-room', 'early'],
        'low',
        image.behind === null
          ? 'It is the largest picture that is painted: asked for before others.'
          : 'It is the largest picture that is painted, and only a style names it: asked for with the page.',
      )
    : give(
        ['late-with-room', 'late'],
        'medium',
        'It stands further down: asked for when a visitor comes near, it leaves the line to what is seen first.',
      );
  if (!isGiven)
    give(['room'], 'low', 'Its size stands in the file alone: with room kept, nothing jumps when it comes.');
}

/** A lighter file that saves neither a phone nor a laptop this is not worth an element around it, bytes. */
const LEAST_SAVED = 3_000;

/** The bytes of an image on a screen as it is, and with lighter files. */
interface OnScreen {
  now: number;
  on: number;
}

/** The same picture in fewer bytes, wherever a screen of today is told it. */
function adviseImageFile(scene: Scene, { url, lighter }: PageImage, rules: Rules): void {
  const match = { url };
  if (!lighter || loneRefusal(scene, 'image-file', match, imageLighter.id)) return;
  const [phone, laptop] = [PHONE, LAPTOP].map(({ width, density }) => ({
    now: bytesNow(lighter, width, density),
    on: bytesOn(lighter, width, density),
  })) as [OnScreen, OnScreen];
  if (Math.max(phone.now - phone.on, laptop.now - laptop.on) < LEAST_SAVED) return;
  rules.add('image-file', match, {
    treatment: imageLighter.id,
    risk: imageLighter.risk.level,
    reason: lighter.set
      ? `In a format of today its files need less: on a phone ${bytes(phone.on)} of ${bytes(phone.now)}, on a laptop ${bytes(laptop.on)} of ${bytes(laptop.now)}.`
      : `It is ${bytes(lighter.bytes)}: as wide as it is shown and in a format of today a phone needs ${bytes(phone.on)} of that, a laptop ${bytes(laptop.on)}.`,
  });
}

/** What stands further down comes when a visitor is near: with it comes a page of somebody else's, scripts and all. */
function adviseEmbed(scene: Scene, embed: PageEmbed, rules: Rules): void {
  const match = { url: embed.url };
  const name = embedName(embed);
  const stands = `${name === null ? 'What it shows' : `“${name}”`} stands further down, and is a page of its own${costOf(scene, embed)}`;
  if (loneRefusal(scene, 'embed', match, embedLate.id)) {
    // What is lazy already may still wait for a press.
    if (loneRefusal(scene, 'embed', match, embedOnPress.id) === null)
      rules.add('embed', match, asAuthored('low', `${stands}: it comes when a visitor is near as it is.`));
    return;
  }
  rules.add('embed', match, {
    treatment: embedLate.id,
    risk: 'low',
    reason: `${stands}: asked for when a visitor comes near, it leaves the line and the processor to what is seen first.`,
  });
}

/** More of them at once take the line from what paints, and a larger answer does by itself. */
const MOST_DATA = 3;
const MOST_DATA_BYTES = 50_000;
/** Sooner than this after the page there is nothing to gain, ms. */
const FOUND_LATE_MS = 200;
/** What a script of one's own that waits asks for is not wanted before; which script asks in truth, the browser does not tell. */
const WAITING = /^(delay|near-view|at-rest)$/;

/** What a script asks for only once it has come and run, is asked for with the page: the chain is a step shorter. */
function adviseData(scene: Scene, { url, exchange }: PageData, rules: Rules): void {
  const { page } = scene;
  const run = page.requests.find((one) => one.url === url && one.method === 'GET');
  const from = documentRequest(page.requests)?.firstByteMs;
  const by = exchange.discovery.by === 'script' ? exchange.discovery.url : null;
  if (!run || by === null || from === null || from === undefined) return;
  if (partyOf(url, page.documentUrl) === 'third' || run.wireBytes > MOST_DATA_BYTES) return;
  const lateMs = run.startMs - from;
  const given = rules.all.filter((one) => one.kind === 'data').length;
  const someWait = rules.all.some(
    ({ kind, match, treatment }) =>
      kind === 'script' &&
      WAITING.test(treatment) &&
      ('inline' in match || partyOf(matchText(match), page.documentUrl) === 'first'),
  );
  if (lateMs < FOUND_LATE_MS || given >= MOST_DATA || someWait) return;
  if (loneRefusal(scene, 'data', { url }, dataEarly.id)) return;
  rules.add(
    'data',
    { url },
    {
      treatment: dataEarly.id,
      risk: 'medium',
      reason: `${by === page.documentUrl ? 'A script of the page' : fileNameOf(by)} asks for it ${ms(lateMs)} after the page has begun to come: asked for with the page, it is there when the script wants it.`,
    },
  );
}

/** What an embed and all that it brought came to, where it was asked for in the measured run. */
function costOf({ page: { requests } }: Scene, { url }: PageEmbed): string {
  const own = new Set([url, ...broughtBy(requests, url)]);
  const asked = requests.filter((one) => own.has(one.url));
  if (asked.length === 0) return '';
  const wire = asked.reduce((sum, { wireBytes }) => sum + wireBytes, 0);
  return ` (${asked.length === 1 ? 'a request' : `${asked.length} requests`}, ${bytes(wire)})`;
}

function adviseHosts(scene: Scene, rules: Rules): void {
  const { page, fonts } = scene;
  const early = new Set<string>();
  const own = hostOf(page.documentUrl);
  for (const font of fonts)
    if (font.aboveFold && hostOf(font.url) !== own) early.add(new URL(font.url).origin);
  for (const { element, blocking } of page.scripts) {
    const { url } = element;
    if (url === null || hostOf(url) === own) continue;
    const rule = rules.all.find(
      (one) => matchText(one.match) === url || one.together?.some((match) => matchText(match) === url),
    );
    if (rule && (rule.treatment === 'as-authored' || rule.treatment === 'defer') && blocking)
      early.add(new URL(url).origin);
  }
  for (const origin of early)
    if (preconnect.refuses({ origin }, scene) === null)
      rules.add(
        'host',
        { host: origin },
        {
          treatment: 'preconnect',
          risk: 'low',
          reason:
            'Still needed early, from another host: connected to ahead, its round trips are over when it is asked.',
        },
      );
  for (const hint of hintsInVain(hintedPage(page)))
    rules.add(
      'host',
      { host: hint.origin },
      { treatment: 'hint-out', risk: 'low', reason: `${capital(inVainWords(vainHintFacts(hint)))}.` },
    );
}

/** So many documents are asked for ahead: each is work of the server that may be for nothing. */
const MOST_DOCUMENTS = 3;
/** What visitors who stay pay for those who go on, compressed bytes. */
const MOST_BYTES_AHEAD = 300_000;

/** What is worth asking for ahead, as long as it costs little: whether a visitor goes on nobody knows. */
function adviseNext(scene: Scene, rules: Rules): void {
  let [documents, ahead] = [0, 0];
  for (const { url, as, wireBytes, pages } of scene.next) {
    const refusal = loneRefusal(scene, 'next', { url }, prefetch.id);
    const needs = `${listed(pages.map((one) => one.name))} ${pages.length === 1 ? 'needs' : 'need'} it`;
    const size = bytes(wireBytes);
    const tooMuch =
      ahead + wireBytes > MOST_BYTES_AHEAD || (as === 'document' && documents >= MOST_DOCUMENTS);
    if (refusal || tooMuch) {
      const why = refusal
        ? refusalWords(refusal)
        : `with it, more than ${MOST_DOCUMENTS} documents or ${bytes(MOST_BYTES_AHEAD)} would be asked for ahead`;
      rules.add('next', { url }, asAuthored('medium', `${needs} (${size}); not asked for ahead: ${why}.`));
      continue;
    }
    ahead += wireBytes;
    if (as === 'document') documents++;
    const reason =
      as === 'document'
        ? `This page links to ${listed(pages.map((one) => one.name))}: its HTML (${size}) would be there when a visitor goes on.`
        : `${needs}, and this page does not (${size}): it would be there when a visitor goes on.`;
    rules.add(
      'next',
      { url },
      {
        treatment: prefetch.id,
        risk: 'medium',
        reason: `${reason} Recommended off, as visitors who stay pay for it too.`,
        optional: true,
      },
    );
  }
}
