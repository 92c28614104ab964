import { tokenize, tokenTypes } from 'css-tree';

/**
 * A CSS text as tokens, with what closes each of them: what "consume a component value" needs
 * (CSS Syntax 3, section 5.5.8). Offsets are into `text`.
 */
export class TokenStream {
  readonly text: string;
  readonly types: number[];
  readonly #starts: number[];
  /** For the token that opens a block or a function, the index of the one that closes it. */
  readonly #closers: Int32Array;
  /** Closing tokens that close nothing. */
  readonly #stray: ReadonlySet<number>;

  constructor(source: string) {
    let text = source.replace(/\r\n?|\f/g, '\n').replaceAll('\0', '\uFFFD');
    if (/(^|[^\\])(\\\\)*\\$/.test(text)) text = text.slice(0, -1) + '\uFFFD';
    let tokens = readTokens(text);
    const missing = missingAtEnd(text, tokens);
    if (missing) tokens = readTokens((text += missing));
    this.text = text;
    this.types = tokens.types;
    this.#starts = tokens.starts;
    const { closers, stray } = matchClosers(this.types);
    this.#closers = closers;
    this.#stray = stray;
  }

  start(index: number): number {
    return this.#starts[index] ?? this.text.length;
  }

  /** Index after the component value that begins at `index`: one token, or a whole block or function. */
  afterValue(index: number): number {
    const closer = this.#closers[index]!;
    return (closer > 0 ? closer : index) + 1;
  }

  /** Text of tokens [from, to) as written, but for white space at its ends. */
  exact(from: number, to: number): string {
    return this.text.slice(this.start(from), this.start(to)).trim();
  }

  /** The same without comments, white space being one space, or none beside a comma. */
  slice(from: number, to: number): string {
    const whole = this.exact(from, to);
    if (!/\/\*|\s\s|[\n\t]|,\s|\s,/.test(whole)) return whole;
    let out = '';
    for (let i = from; i < to; i++) {
      const type = this.types[i];
      if (type === tokenTypes.WhiteSpace) out += ' ';
      // Two tokens that a comment kept apart stay apart.
      else if (type === tokenTypes.Comment) out += EMPTY_COMMENT;
      else if (type === tokenTypes.Comma) {
        out = `${out.trimEnd()},`;
        while (this.types[i + 1] === tokenTypes.WhiteSpace && i + 1 < to) i++;
      } else out += this.text.slice(this.start(i), this.start(i + 1));
    }
    return trimComments(out);
  }

  /** True when the tokens hold one that makes any grammar fail: a broken string or address, a stray closer. */
  isBroken(from: number, to: number): boolean {
    for (let i = from; i < to; i++) {
      const type = this.types[i]!;
      if (type === tokenTypes.BadString || type === tokenTypes.BadUrl) return true;
      if (this.#stray.size && this.#stray.has(i)) return true;
    }
    return false;
  }
}

interface Tokens {
  types: number[];
  starts: number[];
}

function readTokens(text: string): Tokens {
  const tokens: Tokens = { types: [], starts: [] };
  tokenize(text, (type, start) => {
    tokens.types.push(type);
    tokens.starts.push(start);
  });
  return tokens;
}

const EMPTY_COMMENT = '/**/';

/** Without recourse to a pattern: one that is tried at each of many comments takes longer than anybody waits. */
function trimComments(text: string): string {
  let [from, to] = [0, text.length];
  for (let trimmed = true; trimmed && from < to;) {
    const length = text.startsWith(EMPTY_COMMENT, from) ? EMPTY_COMMENT.length : Number(text[from] === ' ');
    from += length;
    trimmed = length > 0;
  }
  for (let trimmed = true; trimmed && from < to;) {
    const length =
      to - from >= EMPTY_COMMENT.length && text.endsWith(EMPTY_COMMENT, to)
        ? EMPTY_COMMENT.length
        : Number(text[to - 1] === ' ');
    to -= length;
    trimmed = length > 0;
  }
  return text.slice(from, to);
}

const CLOSER_OF = new Map<number, number>([
  [tokenTypes.LeftCurlyBracket, tokenTypes.RightCurlyBracket],
  [tokenTypes.LeftSquareBracket, tokenTypes.RightSquareBracket],
  [tokenTypes.LeftParenthesis, tokenTypes.RightParenthesis],
  [tokenTypes.Function, tokenTypes.RightParenthesis],
]);

const CLOSERS = new Set(CLOSER_OF.values());

/** CSS Syntax 3, "consume a simple block": only its own closer ends a block; others in it are mere tokens. */
function matchClosers(types: readonly number[]): { closers: Int32Array; stray: Set<number> } {
  const closers = new Int32Array(types.length);
  const stray = new Set<number>();
  const open: { index: number; closer: number }[] = [];
  types.forEach((type, index) => {
    const closer = CLOSER_OF.get(type);
    if (closer !== undefined) open.push({ index, closer });
    else if (CLOSERS.has(type)) {
      if (open.at(-1)?.closer === type) closers[open.pop()!.index] = index;
      else stray.add(index);
    }
  });
  for (const { index } of open) closers[index] = types.length - 1;
  return { closers, stray };
}

const CLOSING_TEXT = new Map([
  [tokenTypes.RightCurlyBracket, '}'],
  [tokenTypes.RightSquareBracket, ']'],
  [tokenTypes.RightParenthesis, ')'],
]);

/** What the end of a file closes by itself: strings, comments, addresses, blocks (CSS Syntax 3, section 4.3). */
function missingAtEnd(text: string, { types, starts }: Tokens): string {
  const open: number[] = [];
  for (const type of types) {
    const closer = CLOSER_OF.get(type);
    if (closer !== undefined) open.push(closer);
    else if (open.at(-1) === type) open.pop();
  }
  const lastType = types.at(-1);
  const last = text.slice(starts.at(-1) ?? 0);
  let missing = '';
  if (lastType === tokenTypes.String && (last.length === 1 || !isClosedString(last))) missing = last[0]!;
  else if (lastType === tokenTypes.Comment && !/^\/\*[\s\S]*\*\/$/.test(last)) missing = '*/';
  else if ((lastType === tokenTypes.Url || lastType === tokenTypes.BadUrl) && !/[^\\](\\\\)*\)$/.test(last))
    missing = ')';
  return (
    missing +
    open
      .reverse()
      .map((closer) => CLOSING_TEXT.get(closer))
      .join('')
  );
}

function isClosedString(token: string): boolean {
  if (!token.endsWith(token[0]!)) return false;
  const slashes = /(\\*)$/.exec(token.slice(0, -1))![1]!.length;
  return slashes % 2 === 0;
}
