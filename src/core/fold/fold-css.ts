import { gzipSync } from 'fflate';
import type { AtRule, Rule } from 'postcss';
import type { FlatSheet } from '../css/flatten.ts';
import { printSheet } from '../css/print-sheet.ts';
import { mapUrls, rebase } from '../css/urls.ts';
import { chooseRules, contextOf, type ChosenSheet, type KeptRule, type PageAnswers } from './choose.ts';
import { closeOver, type OutsideNeeds } from './closure.ts';
import type { FoldDecision } from './decisions.ts';
import { dropOverridden, type ElementsOf } from './overridden.ts';

/** The fold CSS of one stylesheet link, to stand in the link's place. */
export interface FoldSheet {
  url: string;
  css: string;
  kept: KeptRule[];
  rules: number;
  sourceBytes: number;
  foldBytes: number;
  parts: { url: string; bytes: number }[];
  problems: string[];
  /** Kept as it is, since its rules could not be told apart surely. */
  whole: boolean;
}

/** What the fold CSS of a page's linked sheets is made from. */
export interface FoldInput {
  /** One for each `<link>`, in document order. */
  sheets: readonly FlatSheet[];
  /** Addresses of sheets whose rules the browser reads otherwise than we do: they are kept as they are. */
  unsure: ReadonlySet<string>;
  /** What the page said of their selectors and media queries. */
  answers: PageAnswers;
  /** Which elements each selector applies to; null leaves overridden declarations in. */
  elementsOf: ElementsOf | null;
  outside: OutsideNeeds;
  decisions: readonly FoldDecision[];
  documentUrl: string;
}

/** A set of fold CSS, and the chosen rules it was printed from. */
export interface FoldSet {
  sheets: FoldSheet[];
  chosen: ChosenSheet[];
  /** Declarations left out because another rule overrides them everywhere. */
  overridden: number;
}

/** Chooses, closes, minimises and prints the fold CSS of all linked sheets of a page. */
export function makeFoldCss(input: FoldInput): FoldSet {
  const { sheets, unsure, answers, decisions } = input;
  const chosen = sheets.map((sheet) => chooseRules(sheet, answers, decisions));
  const sure = chosen.flatMap((one, index) =>
    unsure.has(one.url) ? [] : [{ root: one.root, media: sheets[index]!.media }],
  );
  const roots = sure.map((one) => one.root);
  const overridden = input.elementsOf ? dropOverridden(sure, input.elementsOf) : 0;
  const whole = sheets.filter((sheet) => unsure.has(sheet.url)).map((sheet) => wholeText(sheet, input));
  closeOver(roots, { ...input.outside, css: [input.outside.css, ...whole].join('\n') });
  return {
    chosen,
    overridden,
    sheets: chosen.map((one, index) => {
      const sheet = sheets[index]!;
      const isWhole = unsure.has(one.url);
      const css = isWhole ? wholeText(sheet, input) : printSheet(one.root);
      return {
        url: one.url,
        css,
        kept: isWhole ? [] : keptOf(one),
        rules: one.rules,
        sourceBytes: sheet.parts.reduce((sum, part) => sum + part.bytes, 0),
        foldBytes: bytesOf(css),
        parts: sheet.parts.map(({ url, bytes }) => ({ url, bytes })),
        problems: sheet.problems,
        whole: isWhole,
      };
    }),
  };
}

/** A sheet as authored, its addresses written against the document. */
function wholeText(sheet: FlatSheet, { documentUrl }: FoldInput): string {
  return mapUrls(sheet.parts[0]?.text ?? '', (url) => rebase(url, sheet.url, documentUrl));
}

/** The rules that are still there after closing over and minimising, in order, with their sizes. */
function keptOf(chosen: ChosenSheet): KeptRule[] {
  const kept: KeptRule[] = [];
  chosen.root.walk((node) => {
    if (node.type !== 'rule' && node.type !== 'atrule') return;
    const known = chosen.kept.get(node);
    if (known) kept.push({ ...known, selector: (node as Rule).selector, ...sizeOf(node) });
    else if (node.type === 'atrule' && isNamed(node)) kept.push(namedRule(node, chosen.url));
  });
  return kept;
}

function isNamed(rule: AtRule): boolean {
  return /^(font-face|.*keyframes|property|counter-style|font-(feature|palette)-values|position-try)$/i.test(
    rule.name,
  );
}

function namedRule(rule: AtRule, url: string): KeptRule {
  const family = rule.nodes?.find((node) => node.type === 'decl' && /^font-family$/i.test(node.prop));
  const name = family?.type === 'decl' ? family.value : rule.params;
  return {
    selector: `@${rule.name} ${name}`.trim(),
    context: contextOf(rule),
    sheetUrl: rule.source?.input.file ?? url,
    line: rule.source?.start?.line ?? 1,
    concern: 'painted',
    reason: 'named',
    neededBy: [],
    ...sizeOf(rule),
  };
}

function sizeOf(node: Rule | AtRule): Pick<KeptRule, 'bytes' | 'embedded'> {
  const text = printSheet(node);
  return { bytes: bytesOf(text), embedded: /url\(\s*["']?data:/i.test(text) };
}

/** UTF-8 length. */
export function bytesOf(text: string): number {
  return new TextEncoder().encode(text).length;
}

/** Bytes after gzip at its best level, as a server would send the text. */
export function compressedBytes(text: string): number {
  return gzipSync(new TextEncoder().encode(text), { level: 9 }).length;
}
