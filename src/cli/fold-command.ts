import { readFileSync, writeFileSync } from 'node:fs';
import type { FamilyFigures } from '../core/fold/family.ts';
import { nameOfViewport } from '../core/fold/viewports.ts';
import { CapturedPage } from '../core/page/captured-page.ts';
import { linkedSheets } from '../core/page/linked-sheets.ts';
import { bytes } from '../core/path/words.ts';
import { Trouble } from '../engine/errors.ts';
import type { FoldResult } from '../engine/fold/fold-result.ts';
import { carryOut, type ResultOf } from '../engine/jobs/orders.ts';
import type { Database } from '../store/database.ts';
import { foldFamily } from '../usecases/family-fold.ts';
import { keepFold } from '../usecases/keep.ts';
import { foldCheckJson, foldJson } from './json.ts';
import type { Options } from './options.ts';

/** A page as it is worked on: captured and stored. */
export interface Captured {
  result: Omit<ResultOf<'capture'>, 'kind'>;
  pageId: number;
  captureId: number;
}

/** What a command has to say of a page. */
export interface Answer {
  json: unknown;
  text: string;
  failed?: boolean;
}

/** `fold`: makes fold CSS for a page or a family, or proves a file against pages. */
export class FoldCommand {
  #options: Options;
  #database: Database;
  #signal: AbortSignal;
  #say: (step: string) => void;
  #userPath: (path: string) => string;

  constructor(
    options: Options,
    database: Database,
    signal: AbortSignal,
    say: (step: string) => void,
    userPath: (path: string) => string,
  ) {
    this.#options = options;
    this.#database = database;
    this.#signal = signal;
    this.#say = say;
    this.#userPath = userPath;
  }

  /** Makes and stores the set of a captured page. */
  async make(
    { result, pageId, captureId }: Captured,
    family: readonly FoldResult['answers'][] = [],
  ): Promise<FoldResult> {
    const { viewports, decisions, budgetBytes, rest } = this.#options;
    const made = await carryOut(
      {
        kind: 'fold',
        pageName: result.capture.url,
        capture: result.capture,
        bodies: result.bodies,
        state: result.state,
        decisions,
        rest,
        family,
        ...(viewports ? { viewports } : {}),
        ...(budgetBytes ? { budgetBytes } : {}),
      },
      this.#say,
      this.#signal,
    );
    await keepFold(this.#database, pageId, captureId, made);
    return made.fold;
  }

  /** Makes the fold CSS of the pages; of several, as one family. */
  async fold(pages: readonly Captured[]): Promise<Answer[]> {
    const { checkFile } = this.#options;
    if (checkFile) return this.#check(pages, checkFile, this.readCheckFile());
    const latest = new Map<Captured, FoldResult>();
    let figures: FamilyFigures | null = null;
    if (pages.length === 1) latest.set(pages[0]!, await this.make(pages[0]!));
    else
      figures = await foldFamily(
        pages.map((page) => ({
          name: page.result.capture.url,
          documentUrl: page.result.capture.documentUrl,
          sheets: () =>
            Promise.resolve(linkedSheets(new CapturedPage(page.result.capture, page.result.bodies)).sheets),
          decisions: this.#options.decisions,
          make: async (others) => {
            const fold = await this.make(page, others);
            latest.set(page, fold);
            return { answers: fold.answers, compressedBytes: fold.foldCompressedBytes };
          },
        })),
        null,
      );
    this.#write([...latest.values()], figures);
    return pages.map((page, index) => this.#tell(page, latest.get(page)!, figures, index));
  }

  /** One file for one page or one set; else a numbered file for each page. */
  #write(folds: readonly FoldResult[], figures: FamilyFigures | null): void {
    const { out } = this.#options;
    if (!out) return;
    const file = this.#userPath(out);
    if (!figures || figures.choice === 'one set') {
      // The pages of a family may link different sheets: each sheet's rules once.
      const sheets = new Map(folds.flatMap((fold) => fold.sheets.map((sheet) => [sheet.url, sheet.css])));
      writeFileSync(file, [...sheets.values()].join('\n'));
      return;
    }
    folds.forEach((fold, index) => writeFileSync(file.replace(/(\.css)?$/, `-${index + 1}.css`), fold.css));
  }

  #tell(page: Captured, fold: FoldResult, figures: FamilyFigures | null, index: number): Answer {
    const { budgetBytes, out, json } = this.#options;
    const tooLarge = budgetBytes !== null && fold.headCompressedBytes > budgetBytes;
    const lines = [
      `${page.result.capture.url}: ${bytes(fold.foldBytes)} of ${bytes(fold.sourceBytes)} CSS (compressed ${bytes(fold.foldCompressedBytes)} of ${bytes(fold.sourceCompressedBytes)}), ${fold.proved ? 'proved' : 'not proved'}.`,
      `The head with it takes ${bytes(fold.headCompressedBytes)} compressed, of a budget of ${bytes(fold.budgetBytes)}.`,
      ...fold.viewports.map(
        (one) =>
          `${nameOfViewport(one)}${one.between ? ' (between)' : ''}: ${(one.differingPixelShare * 100).toFixed(3)} % of the pixels differ, the greatest region ${one.largestRegionPixels} px`,
      ),
      ...fold.viewports.flatMap((one) =>
        one.differences.map(
          (difference) =>
            `  ${nameOfViewport(one)}: ${difference.element ?? 'a place'} at ${Math.round(difference.left)},${Math.round(difference.top)} differs${difference.property ? ` in ${difference.property}` : ''}${difference.rule ? `; it lacks ${difference.rule.selector}` : ''}`,
        ),
      ),
      ...fold.remarks,
      ...(fold.giveUps.length ? ['To come under the budget, give up first:'] : []),
      ...fold.giveUps.map(
        (one, at) =>
          `${at + 1}. ${one.what}: ${one.rules} rules, about ${bytes(one.compressedBytes)}. ${one.risk}`,
      ),
    ];
    if (figures) {
      const figure = figures.pages[index]!;
      lines.push(
        `Family: its own set takes ${bytes(figure.ownBytes)} compressed, one set for all ${bytes(figure.oneSetBytes)}; ${figures.choice === 'one set' ? 'one set is made' : 'each page has its own'}.`,
      );
    }
    if (!out && !json) lines.push('', fold.css);
    return {
      json: foldJson(
        page.result.capture.url,
        fold,
        figures && { choice: figures.choice, ...figures.pages[index]! },
      ),
      text: lines.join('\n'),
      failed: !fold.proved || tooLarge,
    };
  }

  /** The CSS to be proved; read before anything is measured for it. '' where none was named. */
  readCheckFile(): string {
    const { checkFile } = this.#options;
    if (!checkFile) return '';
    try {
      return readFileSync(this.#userPath(checkFile), 'utf8');
    } catch (error) {
      throw new Trouble(
        'input',
        `The CSS ${checkFile} could not be read: ${error instanceof Error ? error.message : String(error)}.`,
      );
    }
  }

  async #check(pages: readonly Captured[], path: string, css: string): Promise<Answer[]> {
    const answers: Answer[] = [];
    for (const { result } of pages) {
      const { viewports } = this.#options;
      const { check } = await carryOut(
        {
          kind: 'check-fold',
          pageName: result.capture.url,
          capture: result.capture,
          bodies: result.bodies,
          state: result.state,
          css,
          ...(viewports ? { viewports } : {}),
        },
        this.#say,
        this.#signal,
      );
      answers.push({
        json: foldCheckJson(result.capture.url, path, check),
        text: [
          `${result.capture.url}: ${path} (${bytes(check.bytes)}) ${check.holds ? 'paints the same above the fold' : 'does not paint the same above the fold'}.`,
          ...check.viewports.map(
            (one) =>
              `${nameOfViewport(one)}: ${(one.differingPixelShare * 100).toFixed(3)} % of the pixels and ${one.otherElements} elements differ`,
          ),
        ].join('\n'),
        failed: !check.holds,
      });
    }
    return answers;
  }
}
