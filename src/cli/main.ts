import { writeFileSync } from 'node:fs';
import { isAbsolute, join } from 'node:path';
import { ms, bytes } from '../core/path/words.ts';
import { activeRules, matchText, usesFold, withRulesOf, type Plan } from '../core/treat/plan.ts';
import { waitsOf } from '../core/trial/rule-steps.ts';
import { writeHar } from '../core/har/write-har.ts';
import { AS_VISITOR } from '../core/measure/visit.ts';
import { inPlainWords, Trouble } from '../engine/errors.ts';
import { readHarFile, type HarContents } from '../engine/har/read-har-file.ts';
import { EVERY_HOST, readCertificate } from '../engine/chromium/certificates.ts';
import type { Trial } from '../engine/trial/trial.ts';
import { moreArmsLines } from '../core/words/more-arms.ts';
import { leftSentence } from '../core/words/what-is-left.ts';
import { isProved, trialWords } from '../core/trial/verdict.ts';
import { faultsOf, type Rehearsal } from '../core/rehearse/rehearsal.ts';
import { rehearsalRemarks, rehearsedSentence } from '../core/words/rehearsal.ts';
import { nextPagesOf } from '../usecases/next-pages.ts';
import { rehearsed } from '../usecases/rehearsal.ts';
import { decidedPlan, readDecisions, readOwnChecksFile, readPlan } from './plan-files.ts';
import { makeFolder, writeTreatedFiles } from './treat-files.ts';
import { carryOut, type ArmsBeside, type Order, type ResultOf } from '../engine/jobs/orders.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { readPageAssets } from '../core/page/page-assets.ts';
import { recommendPlan } from '../core/treat/recommend.ts';
import { applyPlan } from '../core/treat/apply.ts';
import { sceneOf } from '../core/treat/scene.ts';
import { aheadRules, askingAhead } from '../core/next/ahead.ts';
import type { NextPages } from '../core/next/next-assets.ts';
import type { Scene } from '../core/treat/treatment.ts';
import { navigationWords } from '../core/words/navigation.ts';
import type { MappedFold } from '../core/path/map-page.ts';
import { toldFaults } from '../core/words/at-fault.ts';
import { unprovedWords } from '../core/words/unproved.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import { LockedError } from '../locks/process-lock.ts';
import { addCapture } from '../store/captures.ts';
import { latestYardstick } from '../store/conditions.ts';
import { LaterSchema, openDatabase, type Database } from '../store/database.ts';
import { ownChecksOf, saveOwnChecks } from '../store/own-checks.ts';
import { ensurePage } from '../store/sites.ts';
import { foldMark } from '../usecases/fold-hash.ts';
import { keepMeasurement, keepTrial } from '../usecases/keep.ts';
import { keepRuleGains } from '../store/rule-gains.ts';
import { ruleGainsSentence } from '../core/words/rule-gains.ts';
import { FoldCommand, type Answer, type Captured } from './fold-command.ts';
import { mapMeasured } from '../core/path/map-measured.ts';
import { gainLines, gainsJson, liveMapJson, mapJson, trialJson } from './json.ts';
import { lighterFilesOf, usesLighterFiles } from './lighter-files.ts';
import { readOptions, type Input, type Options } from './options.ts';
import { triedUntilItHolds, type Rehearsed } from './tried-until-it-holds.ts';
import { asksForHelp, usageOf } from './usage.ts';

const EXIT = { done: 0, checkFailed: 1, badInput: 2, notMeasured: 3 } as const;

/** A file the user named, from where the user called. */
const userPath = (path: string) =>
  isAbsolute(path) ? path : join(process.env['WISTREL_CWD'] ?? process.cwd(), path);

/** A plan to be tried, and what is said of how it came about. */
interface Planned extends Rehearsed {
  fold: MappedFold | null;
  said: string[];
}

/** A page that was replayed as well. */
type Measured = Captured & { result: Omit<ResultOf<'measure'>, 'kind'> };

class Command {
  #options: Options;
  #database: Database;
  #cancel: AbortController;
  #foldCommand: FoldCommand;
  #ownChecks: ReturnType<typeof readOwnChecksFile> | null = null;

  constructor(options: Options, database: Database, cancel: AbortController) {
    this.#options = options;
    this.#database = database;
    this.#cancel = cancel;
    this.#foldCommand = new FoldCommand(options, database, cancel.signal, say, userPath);
  }

  /** Carries the command out for every address. @returns the exit code */
  async run(): Promise<number> {
    // Read before anything is measured for it.
    const { ownChecksFile } = this.#options;
    if (ownChecksFile) this.#ownChecks = readOwnChecksFile(userPath(ownChecksFile));
    const answers: unknown[] = [];
    let code: number = EXIT.done;
    for await (const { json, text, failed } of this.#answers()) {
      answers.push(json);
      if (failed) code = EXIT.checkFailed;
      if (this.#options.json !== '-') console.log(text);
    }
    if (this.#options.json) {
      const text = `${JSON.stringify(answers.length === 1 ? answers[0] : answers, null, 2)}\n`;
      if (this.#options.json === '-') process.stdout.write(text);
      else writeFileSync(userPath(this.#options.json), text);
    }
    return code;
  }

  async *#answers(): AsyncGenerator<Answer> {
    const { command, inputs } = this.#options;
    if (command === 'next') {
      yield await this.#one(command, inputs[0]!);
      return;
    }
    if (command !== 'fold') {
      for (const input of inputs) yield await this.#one(command, input);
      return;
    }
    this.#foldCommand.readCheckFile();
    // The pages of a family may share one set: all are captured first.
    const pages: Captured[] = [];
    for (const input of inputs) pages.push(await this.#capture(input));
    yield* await this.#foldCommand.fold(pages);
  }

  #one(command: Exclude<Options['command'], 'fold'>, input: Input): Promise<Answer> {
    switch (command) {
      case 'map':
        return this.#map(input);
      case 'plan':
        return this.#plan(input);
      case 'treat':
        return this.#treat(input);
      case 'trial':
        return this.#trial(input);
      case 'prove':
        return this.#prove(input);
      case 'next':
        return this.#next(input, this.#options.inputs[1]!);
      case 'har':
        return this.#har(input);
    }
  }

  async #map(input: Input) {
    const har = input.kind === 'har' ? await this.#readHar(input.path) : null;
    const json =
      har && !har.canReplay
        ? liveMapJson(har.capture)
        : mapJson((await this.#measure(input, this.#options.runs, har)).result, this.#options.conditions);
    const lines = [
      json.sentence,
      ...json.paintBill.map(
        (segment) => `${ms(segment.endMs - segment.startMs).padStart(10)}  ${segment.label}`,
      ),
    ];
    lines.push(
      '',
      ...json.assets.map(
        (asset) =>
          `${asset.hold.padEnd(7)} ${bytes(asset.wireBytes).padStart(8)}  ${asset.url.slice(0, 100)}\n                  ${asset.evidence}`,
      ),
    );
    return { json, text: lines.join('\n') };
  }

  async #plan(input: Input) {
    const { plan, said } = await this.#planned(await this.#measureForPlan(input, 1));
    const lines = plan.rules.map(
      (rule) =>
        `${rule.on ? 'on ' : 'off'} ${rule.risk.padEnd(6)} ${treatmentLabel(rule.kind, rule.treatment).padEnd(24)} ${matchText(rule.match)}\n    ${rule.reason}`,
    );
    return { json: plan, text: [...lines, '', ...said].join('\n') };
  }

  /** What is recommended for a page, with what was decided, as rehearsed; written down where that is asked for. */
  async #planned(measured: Measured): Promise<Planned> {
    const { decisionsFile } = this.#options;
    const decided = decisionsFile ? readDecisions(userPath(decisionsFile)) : null;
    const fold = await this.#foldCommand.make(measured);
    const { scene } = await this.#scene(measured, fold);
    const { plan: start, said } = decidedPlan(scene, recommendPlan(scene, this.#options.risk), decided);
    const rehearsal = this.#options.unrehearsed ? null : await this.#rehearse(measured, start, fold);
    const plan = rehearsal ? withRulesOf(rehearsal.plan, start) : start;
    this.#writePlan(plan);
    return { plan, fold, rehearsal, said: [...said, ...rehearsalLines(rehearsal), ...unprovedWords(fold)] };
  }

  /** A page of which a plan is to be made. */
  async #measureForPlan(input: Input, runs: number): Promise<Measured> {
    const measured = await this.#measure(input, runs);
    return this.#options.lighterFiles ? this.#withLighterFiles(measured) : measured;
  }

  /** A page with all that these plans need of it. */
  async #measuredFor(input: Input, plans: readonly Plan[]): Promise<Measured> {
    const measured = await this.#measure(input, 1);
    return plans.some(usesLighterFiles) ? this.#withLighterFiles(measured) : measured;
  }

  #withLighterFiles(measured: Measured): Promise<Measured> {
    return lighterFilesOf(this.#database, measured, say, this.#cancel.signal);
  }

  #writePlan(plan: Plan): void {
    if (this.#options.out) writeFileSync(userPath(this.#options.out), `${JSON.stringify(plan, null, 2)}\n`);
  }

  /** Recommends, rehearses, holds the trial, and measures what each rule gains. */
  async #prove(input: Input) {
    const measured = await this.#measureForPlan(input, 3);
    const planned = await this.#planned(measured);
    const { fold } = planned;
    const { capture } = measured.result;
    const { trial, notApplied, plan, excepted } = await this.#triedUntilItHolds(measured, planned);
    // A plan in which nothing acts has no rules to be measured.
    const gains = activeRules(plan).length ? await this.#ruleGains(measured, plan, fold) : null;
    return {
      json: {
        ...trialJson(capture.url, { kind: 'trial', trial, notApplied }),
        plan,
        ruleByRule: gains && gainsJson(gains, plan),
      },
      failed: !isProved(trial, this.#options.allowed),
      text: [
        trialWords(trial.result),
        ...leftLines(trial),
        ...planned.said,
        ...excepted,
        '',
        ...(gains ? [ruleGainsSentence(gains), ...gainLines(gains, plan)] : ['No rule of the plan acts.']),
      ].join('\n'),
    };
  }

  /** Holds the trial; the rules that it shows to break the page are excepted, and what is left is tried again. */
  async #triedUntilItHolds(measured: Measured, { fold, ...first }: Planned) {
    const { scene } = await this.#scene(measured, fold);
    return triedUntilItHolds(first, {
      scene,
      allowed: this.#options.allowed,
      hold: (plan, rehearsal) => this.#holdTrial(measured, plan, fold, rehearsal),
      rehearse: async (plan) => (this.#options.unrehearsed ? null : this.#rehearse(measured, plan, fold)),
      onLess: (plan) => this.#writePlan(plan),
    });
  }

  async #ruleGains(measured: Measured, plan: Plan, fold: MappedFold | null) {
    const { conditions, runs } = this.#options;
    const waitedMs = waitsOf(mapMeasured(measured.result, conditions).map.assets);
    const { gains } = await carryOut(
      {
        kind: 'rule-gains',
        ...(await this.#replayed({ measured, plan, fold })),
        waitedMs,
        rounds: runs,
      },
      say,
      this.#cancel.signal,
    );
    const of = { captureId: measured.captureId, plan, foldHash: foldMark(fold), conditions };
    await this.#database.transaction((queries) => keepRuleGains(queries, measured.pageId, of, gains));
    return gains;
  }

  async #rehearse(measured: Measured, plan: Plan, fold: MappedFold | null): Promise<Rehearsal> {
    const { capture, bodies, state, measurement } = measured.result;
    const { requests } = measurement.runs[0]!;
    const { pageId } = measured;
    // They stay with the page, as those that are kept on its screens.
    if (this.#ownChecks) await saveOwnChecks(this.#database, pageId, this.#ownChecks.text, null);
    const checks = await ownChecksOf(this.#database, pageId);
    const { next } = await this.#scene(measured, fold);
    const page = { pageId, pageName: capture.url, capture, bodies, state, requests, fold, next, checks };
    return rehearsed(this.#database, page, plan, (order, onSoFar) =>
      carryOut(order, say, this.#cancel.signal, onSoFar),
    );
  }

  /** Writes what a plan changes of a page. */
  async #treat(input: Input) {
    const plan = readPlan(userPath(this.#options.planFile!));
    const folder = userPath(this.#options.out!);
    makeFolder(folder);
    const measured = await this.#measuredFor(input, [plan]);
    const { capture } = measured.result;
    const fold = await this.#foldFor(measured, plan);
    const { scene } = await this.#scene(measured, fold);
    const treated = applyPlan(scene, plan, { evenIllegal: this.#options.evenIllegal });
    const changes = writeTreatedFiles(folder, capture.documentUrl, treated);
    return {
      json: changes,
      failed: treated.notApplied.length > 0,
      text: [
        `${changes.length} ${changes.length === 1 ? 'file' : 'files'} written to ${folder}; changes.json says what each is.`,
        ...treated.notApplied.map((one) => `Not applied, ${one.ruleId}: ${one.why}`),
      ].join('\n'),
    };
  }

  /** What treating a page is decided on; the pages that were captured into the same data folder are its next ones. */
  async #scene(
    { result, pageId }: Measured,
    fold: MappedFold | null,
  ): Promise<{ scene: Scene; next: NextPages }> {
    const { capture, bodies, measurement } = result;
    const assets = readPageAssets(new CapturedPage(capture, bodies), measurement.runs[0]!.requests);
    const next = await nextPagesOf(this.#database, pageId, { assets });
    return { scene: sceneOf(assets, fold, next.assets), next };
  }

  /** Goes from a page to one that it links to, with and without what is asked for ahead. */
  async #next(input: Input, to: Input) {
    const { planFile, out } = this.#options;
    const given = planFile ? readPlan(userPath(planFile)) : null;
    const { capture: other, bodies, planned } = await this.#goneTo(to);
    const measured = await this.#measuredFor(input, given ? [given] : []);
    const { capture } = measured.result;
    const fold = given && (await this.#foldFor(measured, given));
    const { scene } = await this.#scene(measured, fold);
    const recommended = recommendPlan(scene, this.#options.risk);
    const plan = askingAhead(
      given ?? { ...recommended, rules: recommended.rules.filter((rule) => rule.kind === 'next') },
    );
    if (aheadRules(plan).length === 0)
      throw new Trouble(
        'input',
        given
          ? 'The plan asks for nothing ahead: it has no rule of the kind “next” that is switched on.'
          : `Nothing can be asked for ahead: ${capture.url} does not link to ${other.url}, or needs what that needs itself. Both pages are kept.`,
      );
    if (given) await this.#refuseIllegal(measured, plan, fold);
    const names = { from: capture.title || capture.url, to: other.title || other.url };
    const { navigation } = await carryOut(
      {
        kind: 'navigation',
        ...(await this.#replayed({ measured, plan, fold })),
        to: { name: names.to, capture: other, bodies, planned },
        pairs: this.#options.runs,
      },
      say,
      this.#cancel.signal,
    );
    if (out) writeFileSync(userPath(out), `${JSON.stringify(plan, null, 2)}\n`);
    const sentence = navigationWords(navigation, names.from, names.to);
    const rules = aheadRules(plan).map(
      (rule) => `${treatmentLabel(rule.kind, rule.treatment).padEnd(24)} ${matchText(rule.match)}`,
    );
    return {
      json: { url: capture.url, to: other.url, sentence, ...navigation, plan },
      failed: navigation.paint.verdict !== 'earlier' || navigation.ownPaint.verdict === 'later',
      text: [sentence, '', ...rules].join('\n'),
    };
  }

  /** The page that is gone to, and its own plan where one is given: rehearsed, as what may break it is not timed. */
  async #goneTo(to: Input): Promise<Extract<Order, { kind: 'navigation' }>['to']> {
    const { nextPlanFile } = this.#options;
    if (!nextPlanFile) {
      const { capture, bodies } = (await this.#capture(to)).result;
      return { name: capture.url, capture, bodies: new Map(bodies), planned: null };
    }
    const given = readPlan(userPath(nextPlanFile));
    const measured = await this.#measuredFor(to, [given]);
    const fold = await this.#foldFor(measured, given);
    await this.#refuseIllegal(measured, given, fold);
    const { plan, gaveUp } = await this.#rehearse(measured, given, fold);
    const { capture, bodies } = measured.result;
    if (gaveUp)
      throw new Trouble(
        'input',
        `${capture.url} breaks with its plan, and which rules do that was not found: it is not gone to with that. Switch rules off in ${nextPlanFile}, or leave --next-plan out. Both pages are kept.`,
      );
    const { requests, next } = await this.#replayed({ measured, plan, fold });
    return { name: capture.url, capture, bodies, planned: { requests, plan, fold, next } };
  }

  /** A page that a plan breaks is not to be measured as if it were faster. @throws Trouble for an illegal plan */
  async #refuseIllegal(measured: Measured, plan: Plan, fold: MappedFold | null): Promise<void> {
    const { scene } = await this.#scene(measured, fold);
    const illegal = applyPlan(scene, plan).notApplied.filter((one) => one.illegal);
    if (illegal.length === 0 || this.#options.evenIllegal) return;
    throw new Trouble(
      'input',
      `The plan would break the page; nothing was tried. ${illegal.map((one) => `${one.ruleId}: ${one.why}`).join(' ')} Switch ${illegal.length === 1 ? 'that rule' : 'those rules'} off, or try it all the same with --even-illegal.`,
    );
  }

  /** The fold CSS that a plan needs; null where it needs none. */
  async #foldFor(measured: Measured, plan: Plan): Promise<MappedFold | null> {
    if (!usesFold(plan)) return null;
    return { ...(await this.#foldCommand.make(measured)), accepted: this.#options.useUnproved };
  }

  /** The same for several plans, one of which may need it; the ideal page does. */
  async #foldForAny(measured: Measured, plans: readonly Plan[], anyhow: boolean): Promise<MappedFold | null> {
    const plan = plans.find(usesFold);
    if (plan) return this.#foldFor(measured, plan);
    return anyhow ? this.#foldCommand.make(measured) : null;
  }

  async #trial(input: Input) {
    const { planFile, againstFile, besideFile, idealPage } = this.#options;
    const plan = readPlan(userPath(planFile!));
    const against = againstFile ? readPlan(userPath(againstFile)) : null;
    const otherPlan = besideFile ? readPlan(userPath(besideFile)) : null;
    const others = [against, otherPlan].flatMap((one) => one ?? []);
    const measured = await this.#measuredFor(input, [plan, ...others]);
    const { capture } = measured.result;
    const fold = await this.#foldForAny(measured, [plan, ...others], idealPage);
    for (const one of [plan, ...others]) await this.#refuseIllegal(measured, one, fold);
    const rehearsal = this.#options.unrehearsed ? null : await this.#rehearse(measured, plan, fold);
    const result = await this.#holdTrial(measured, plan, fold, rehearsal, {
      against,
      beside: { idealPage, ...(otherPlan ? { otherPlan } : {}) },
    });
    const json = trialJson(capture.url, result, against === null);
    return {
      json,
      failed: !isProved(result.trial, this.#options.allowed),
      text: [
        trialWords(result.trial.result),
        ...(result.trial.moreArms ? moreArmsLines(result.trial.moreArms) : []),
        ...leftLines(result.trial),
        ...toldFaults(result.trial, plan.rules).map(({ sentence }) => sentence),
        ...(rehearsal ? faultsOf(rehearsal) : []),
        ...result.trial.result.undecided.map((one) => `Undecided, ${one}.`),
        ...result.notApplied.map((one) => `Not applied, ${one.ruleId}: ${one.why}`),
      ].join('\n'),
    };
  }

  async #holdTrial(
    measured: Measured,
    plan: Plan,
    fold: MappedFold | null,
    rehearsal: Rehearsal | null,
    { against = null, beside = {} }: { against?: Plan | null; beside?: ArmsBeside } = {},
  ) {
    const result = await carryOut(
      {
        kind: 'trial',
        ...(await this.#replayed({ measured, plan, fold })),
        pairs: this.#options.pairs,
        rehearsal,
        evenIllegal: this.#options.evenIllegal,
        ...(against ? { against } : {}),
        visit: this.#options.visit,
        beside,
      },
      say,
      this.#cancel.signal,
    );
    // What is kept is held against the page as is.
    if (!against) {
      const of = {
        captureId: measured.captureId,
        plan,
        ownPlan: true,
        decided: null,
        foldHash: foldMark(fold),
      };
      await keepTrial(this.#database, measured.pageId, of, result);
    }
    return result;
  }

  /** A page with its plan, as orders that replay it are given it. */
  async #replayed({ measured, plan, fold }: { measured: Measured; plan: Plan; fold: MappedFold | null }) {
    const { capture, bodies, measurement, state } = measured.result;
    const { next } = await this.#scene(measured, fold);
    return {
      pageName: capture.url,
      capture,
      bodies,
      state,
      yardstick: measurement.yardstick,
      requests: measurement.runs[0]!.requests,
      plan,
      fold,
      next,
      conditions: this.#options.conditions,
    };
  }

  /** Captures a page and writes it down as HAR; it is stored like any other capture. */
  async #har(input: Input) {
    const { result } = await this.#measure(input, 1);
    const har = writeHar(result.capture, result.bodies, {
      keepSecrets: this.#options.keepSecrets,
      secretHeaders: [],
      metrics: result.measurement.runs[result.measurement.medianRun]!.metrics,
    });
    const file = userPath(this.#options.out!);
    writeFileSync(file, JSON.stringify(har));
    const text =
      `${har.log.entries.length} exchanges written to ${file}; cookies and authorisation ${this.#options.keepSecrets ? 'kept' : 'redacted'}. ${har.log.comment ?? ''}`.trim();
    return { json: { url: result.capture.url, file, entries: har.log.entries.length }, text };
  }

  #readHar(path: string): Promise<HarContents> {
    let told = 0;
    return readHarFile(userPath(path), (share) => {
      if (share < told + 0.1) return;
      told = share;
      say(`Reading ${path}: ${Math.round(share * 100)} %`);
    });
  }

  async #measure(input: Input, runs: number, har: HarContents | null = null): Promise<Measured> {
    const { conditions } = this.#options;
    const yardstick = await latestYardstick(this.#database);
    const how = { conditions, runs, returnVisits: false, yardstick };
    let result: Measured['result'];
    if (input.kind === 'har') {
      const captured = await this.#harWithBodies(input.path, har);
      const order = { kind: 'replay' as const, pageName: captured.capture.url, ...captured, ...how };
      result = { ...captured, ...(await carryOut(order, say, this.#cancel.signal)) };
    } else
      result = await carryOut(
        { kind: 'measure', ...(await this.#livePage(input.url)), ...how },
        say,
        this.#cancel.signal,
      );
    const { capture } = result;
    const page = await ensurePage(this.#database, capture.url, capture.title || capture.url);
    const { captureId } = await keepMeasurement(this.#database, page.id, conditions, result);
    return { result, pageId: page.id, captureId };
  }

  /** A page for which nothing is timed: it is captured, and not replayed. */
  async #capture(input: Input): Promise<Captured> {
    const result =
      input.kind === 'har'
        ? await this.#harWithBodies(input.path)
        : await carryOut({ kind: 'capture', ...(await this.#livePage(input.url)) }, say, this.#cancel.signal);
    const { capture, bodies, state } = result;
    const page = await ensurePage(this.#database, capture.url, capture.title || capture.url);
    const captureId = await this.#database.transaction((queries) =>
      addCapture(queries, page.id, capture, bodies, state),
    );
    return { result, pageId: page.id, captureId };
  }

  /** How a page is loaded from where it is. */
  async #livePage(url: string) {
    const { conditions } = this.#options;
    const certificate = this.#options.acceptCertificate ? await readCertificate(new URL(url)) : null;
    const accepted = certificate ? [{ host: EVERY_HOST, publicKeyHash: certificate.publicKeyHash }] : [];
    return { pageName: url, url, conditions, accepted, visit: AS_VISITOR, ownClock: true };
  }

  /** @throws Trouble for a file that holds no bodies */
  async #harWithBodies(path: string, har: HarContents | null = null): Promise<Captured['result']> {
    const { capture, bodies, canReplay } = har ?? (await this.#readHar(path));
    if (!canReplay)
      throw new Trouble(
        'input',
        `${path} holds no bodies: it can be mapped (./wistrel map ${path}), but not replayed.`,
      );
    return { capture, bodies, state: null };
  }
}

/** What the treated paint still waits for, in a sentence. */
function leftLines({ left, result }: Trial): string[] {
  return left ? [leftSentence(left, result.headline)] : [];
}

/** What rehearsing a plan has shown, in sentences. */
function rehearsalLines(rehearsal: Rehearsal | null): string[] {
  if (!rehearsal) return [rehearsedSentence(null, false)];
  return [
    rehearsedSentence(rehearsal, false),
    ...rehearsal.exceptions.map(({ ruleId, evidence }) => `Excepted, ${ruleId}: ${evidence}`),
    ...rehearsalRemarks(rehearsal),
  ];
}

function say(step: string): void {
  process.stderr.write(`${step}\n`);
}

async function main(): Promise<number> {
  const args = process.argv.slice(2);
  if (asksForHelp(args)) {
    process.stdout.write(usageOf(args.find((one) => !/^(help|--help|-h)$/.test(one))));
    return EXIT.done;
  }
  let options: Options;
  try {
    options = readOptions(args);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    process.stderr.write(`${message}\n${usageOf(args[0])}`);
    return EXIT.badInput;
  }
  const cancel = new AbortController();
  process.on('SIGINT', () => cancel.abort());
  process.on('SIGTERM', () => cancel.abort());
  // What the browser's driver throws where nobody can catch it.
  process.on('uncaughtException', (error) => {
    process.stderr.write(`${inPlainWords(error).message}\n`);
    process.exit(EXIT.notMeasured);
  });
  let database: Database | null = null;
  try {
    database = await openDatabase(
      options.data ? userPath(options.data) : join(process.cwd(), '.data', 'cli'),
      'the command line',
    );
    return await new Command(options, database, cancel).run();
  } catch (error) {
    if (error instanceof Trouble) {
      const hint = error.kind === 'certificate' ? ' On the command line: add --accept-certificate.' : '';
      process.stderr.write(`${error.message}${hint}\n`);
      return error.kind === 'input' ? EXIT.badInput : EXIT.notMeasured;
    }
    if (error instanceof LockedError) {
      process.stderr.write(
        `The data folder is in use: ${error.message} Choose another one with --data DIR.\n`,
      );
      return EXIT.badInput;
    }
    if (error instanceof LaterSchema) {
      process.stderr.write(`${error.message}\n`);
      return EXIT.badInput;
    }
    process.stderr.write(`It could not be done: ${error instanceof Error ? error.message : String(error)}\n`);
    return EXIT.notMeasured;
  } finally {
    await database?.close();
  }
}

process.exit(await main());
