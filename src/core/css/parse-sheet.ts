import { ident, tokenTypes } from 'css-tree';
import postcss, { type AtRule, type Container, type Declaration, type Root } from 'postcss';
import { TokenStream } from './component-values.ts';

/** At-rules whose blocks hold rules; inside a style rule they hold declarations too (CSS Nesting 1, section 4). */
const HOLDS_RULES = /^(-webkit-|-moz-|-o-)?(media|supports|container|layer|starting-style|keyframes)$/;

/** Nobody writes blocks that lie this deep in others; what does is read as if it were empty. */
const MOST_NESTED = 200;

/**
 * Reads a stylesheet as CSS Syntax 3 says a browser does: it never fails, and recovers from errors at the
 * same places. Values, selectors and preludes
 * stay as they are written, less comments and needless white space.
 *
 * The tree is of postcss nodes, so that it can be walked and cloned; `printSheet` prints it.
 *
 * @param from address of the sheet, kept with each node beside its line
 */
export function parseSheet(text: string, from: string): Root {
  return new SheetParser(text, from).root();
}

class SheetParser {
  #tokens: TokenStream;
  #input: postcss.Input;
  #at = 0;
  #lineStarts: number[] = [0];
  #depth = 0;

  constructor(text: string, from: string) {
    this.#tokens = new TokenStream(text);
    this.#input = new postcss.Input(this.#tokens.text, { from });
    for (let i = this.#tokens.text.indexOf('\n'); i >= 0; i = this.#tokens.text.indexOf('\n', i + 1))
      this.#lineStarts.push(i + 1);
  }

  root(): Root {
    const root = postcss.root();
    this.#rules(root, true);
    return root;
  }

  get #type(): number {
    return this.#tokens.types[this.#at] ?? -1;
  }

  #isSpace(): boolean {
    return this.#type === tokenTypes.WhiteSpace || this.#type === tokenTypes.Comment;
  }

  #skipSpace(): void {
    while (this.#isSpace()) this.#at++;
  }

  #skipValue(): void {
    this.#at = this.#tokens.afterValue(this.#at);
  }

  /** "Consume a stylesheet's contents"; in a block the same, up to its closing bracket. */
  #rules(into: Container, top: boolean): void {
    for (;;) {
      this.#skipSpace();
      const type = this.#type;
      if (type === -1 || (!top && type === tokenTypes.RightCurlyBracket)) return;
      if (top && (type === tokenTypes.CDO || type === tokenTypes.CDC)) this.#at++;
      else if (type === tokenTypes.AtKeyword) this.#atRule(into, !top, false);
      else this.#qualifiedRule(into, !top, false);
    }
  }

  /** "Consume a block's contents": declarations and rules. */
  #blockContents(into: Container): void {
    for (;;) {
      this.#skipSpace();
      const type = this.#type;
      if (type === -1 || type === tokenTypes.RightCurlyBracket) return;
      if (type === tokenTypes.Semicolon) this.#at++;
      else if (type === tokenTypes.AtKeyword) this.#atRule(into, true, true);
      else {
        const mark = this.#at;
        const declaration = this.#declaration();
        if (declaration) {
          if (declaration !== 'dropped') into.append(declaration);
          continue;
        }
        this.#at = mark;
        this.#qualifiedRule(into, true, true);
      }
    }
  }

  /** "Consume an at-rule". */
  #atRule(into: Container, nested: boolean, inStyle: boolean): void {
    const begin = this.#at;
    const name = ident.decode(this.#tokens.slice(begin, begin + 1).slice(1));
    this.#at++;
    const prelude = this.#at;
    for (;;) {
      const type = this.#type;
      if (type === -1 || type === tokenTypes.Semicolon) {
        this.#addAtRule(into, begin, name, prelude, this.#at);
        this.#at++;
        return;
      }
      if (type === tokenTypes.RightCurlyBracket && nested) {
        this.#addAtRule(into, begin, name, prelude, this.#at);
        return;
      }
      if (type === tokenTypes.LeftCurlyBracket) {
        const rule = this.#addAtRule(into, begin, name, prelude, this.#at);
        this.#block(rule, HOLDS_RULES.test(name.toLowerCase()) && !inStyle);
        return;
      }
      this.#skipValue();
    }
  }

  #addAtRule(into: Container, begin: number, name: string, from: number, to: number): AtRule {
    const params = this.#tokens.slice(from, to);
    const rule = postcss.atRule({
      name,
      params,
      source: this.#sourceAt(begin),
    });
    // A prelude no grammar takes: the rule is as if it were not there.
    if (!this.#tokens.isBroken(from, to)) into.append(rule);
    return rule;
  }

  /** "Consume a qualified rule": one that turns out not to be one is passed over. */
  #qualifiedRule(into: Container, nested: boolean, stopsAtSemicolon: boolean): void {
    const begin = this.#at;
    for (;;) {
      const type = this.#type;
      if (type === -1) return;
      if (type === tokenTypes.Semicolon && stopsAtSemicolon) return;
      if (type === tokenTypes.RightCurlyBracket && nested) return;
      if (type === tokenTypes.LeftCurlyBracket) {
        const end = this.#at;
        if (this.#looksLikeCustomProperty(begin, end)) {
          if (nested) this.#badDeclaration();
          else this.#skipValue();
          return;
        }
        const rule = postcss.rule({
          selector: this.#tokens.slice(begin, end),
          source: this.#sourceAt(begin),
        });
        this.#block(rule, false);
        if (rule.selector && !this.#tokens.isBroken(begin, end)) into.append(rule);
        return;
      }
      this.#skipValue();
    }
  }

  #looksLikeCustomProperty(begin: number, end: number): boolean {
    const { types } = this.#tokens;
    let at = begin;
    const skip = () => {
      while (at < end && (types[at] === tokenTypes.WhiteSpace || types[at] === tokenTypes.Comment)) at++;
    };
    skip();
    if (types[at] !== tokenTypes.Ident || !this.#tokens.slice(at, at + 1).startsWith('--')) return false;
    at++;
    skip();
    return at < end && types[at] === tokenTypes.Colon;
  }

  /** "Consume a block" at its opening bracket. */
  #block(into: Container, onlyRules: boolean): void {
    const end = this.#tokens.afterValue(this.#at);
    this.#at++;
    if (into.type === 'atrule') (into as AtRule).nodes ??= [];
    if (into.source) into.source.end = this.#positionOf(end);
    this.#depth++;
    if (this.#depth <= MOST_NESTED) {
      if (onlyRules) this.#rules(into, false);
      else this.#blockContents(into);
    }
    this.#depth--;
    this.#at = end;
  }

  /** "Consume a declaration"; null when it is none, "dropped" for one that no grammar takes. */
  #declaration(): Declaration | 'dropped' | null {
    const begin = this.#at;
    if (this.#type !== tokenTypes.Ident) return null;
    const prop = this.#tokens.slice(begin, begin + 1);
    this.#at++;
    this.#skipSpace();
    if (this.#type !== tokenTypes.Colon) return null;
    this.#at++;
    const from = this.#at;
    let [braces, others] = [0, 0];
    while (
      this.#type !== -1 &&
      this.#type !== tokenTypes.Semicolon &&
      this.#type !== tokenTypes.RightCurlyBracket
    ) {
      if (this.#type === tokenTypes.LeftCurlyBracket) braces++;
      else if (!this.#isSpace()) others++;
      this.#skipValue();
    }
    const isCustom = prop.startsWith('--');
    // A block and anything else is no value, but of a custom property.
    if (braces > 0 && braces + others > 1 && !isCustom) return null;
    const to = this.#at;
    const important = this.#importantAt(from, to);
    const value = isCustom
      ? this.#tokens.exact(from, important ?? to)
      : this.#tokens.slice(from, important ?? to);
    // An empty value holds only for a custom property; a broken one never.
    const holds = !this.#tokens.isBroken(from, to) && (value !== '' || isCustom);
    if (!holds) return 'dropped';
    return postcss.decl({
      prop,
      value: value || ' ',
      important: important !== null,
      source: this.#sourceAt(begin, to),
    });
  }

  /** Index of the "!" of a final "! important", or null. */
  #importantAt(from: number, to: number): number | null {
    const { types } = this.#tokens;
    const space = (i: number) => types[i] === tokenTypes.WhiteSpace || types[i] === tokenTypes.Comment;
    let at = to - 1;
    while (at >= from && space(at)) at--;
    if (types[at] !== tokenTypes.Ident || this.#tokens.slice(at, at + 1).toLowerCase() !== 'important')
      return null;
    at--;
    while (at >= from && space(at)) at--;
    return at >= from && this.#tokens.slice(at, at + 1) === '!' ? at : null;
  }

  /** "Consume the remnants of a bad declaration". */
  #badDeclaration(): void {
    while (this.#type !== -1 && this.#type !== tokenTypes.RightCurlyBracket) {
      const ends = this.#type === tokenTypes.Semicolon;
      this.#skipValue();
      if (ends) return;
    }
  }

  /** Where tokens [index, end) stand; the end is told as the place right after it. */
  #sourceAt(index: number, end = index) {
    return { input: this.#input, start: this.#positionOf(index), end: this.#positionOf(end) };
  }

  #positionOf(index: number) {
    const offset = this.#tokens.start(index);
    let [low, high] = [0, this.#lineStarts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.#lineStarts[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - this.#lineStarts[low]! + 1, offset };
  }
}
