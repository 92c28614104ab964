import { describe, expect, it } from 'vitest';
import { inlineLeave, policiesOf, type InlineKind } from './content-policy.ts';
import { readHtml } from './document.ts';

const KINDS: InlineKind[] = ['style', 'script', 'handler'];
const html = (text = '') => readHtml(new TextEncoder().encode(text));
const leaves = (headers: string[], page = '') =>
  KINDS.map((kind) => inlineLeave(policiesOf(headers, html(page)), kind));
const refused = (headers: string[], page = '') =>
  leaves(headers, page).map((leave) => (leave.state === 'refused' ? leave.by : null));
const nonces = (headers: string[]) =>
  leaves(headers).map((leave) => (leave.state === 'let through' ? leave.nonce : 'refused'));

describe('what a Content-Security-Policy says of what stands in the page itself', () => {
  it('nothing without one, or with one that speaks of other things', () => {
    expect(refused([])).toEqual([null, null, null]);
    expect(refused(["img-src 'self'; upgrade-insecure-requests"])).toEqual([null, null, null]);
  });

  it('falls back from elements and attributes to styles and scripts, and to the default', () => {
    expect(refused(["default-src 'self'"])).toEqual(Array(3).fill("default-src 'self'"));
    expect(refused(["default-src 'self'; style-src 'self' 'unsafe-inline'"])).toEqual([
      null,
      "default-src 'self'",
      "default-src 'self'",
    ]);
    expect(refused(["script-src 'unsafe-inline'; script-src-attr 'none'"])).toEqual([
      null,
      null,
      "script-src-attr 'none'",
    ]);
    expect(refused(["script-src 'none'; script-src-elem 'unsafe-inline'"])[1]).toBeNull();
  });

  it('lets nothing new through that lives by hashes or trust passed on', () => {
    expect(refused(["style-src 'unsafe-inline' 'sha256-abc='"])[0]).not.toBeNull();
    expect(refused(["script-src 'unsafe-inline' 'strict-dynamic'"])[1]).not.toBeNull();
    expect(refused(["style-src 'unsafe-inline' 'strict-dynamic'"])[0]).toBeNull();
  });

  it('has to be let through by each policy, of headers and of the page', () => {
    const lax = "style-src 'unsafe-inline'";
    expect(refused([lax, "style-src 'self'"])[0]).toBe("style-src 'self'");
    expect(refused([`${lax}, STYLE-SRC 'none'`])[0]).toBe("style-src 'none'");
    const meta = `<head><meta http-equiv="Content-Security-Policy" content="style-src 'self'"></head>`;
    expect(refused([], meta)[0]).toBe("style-src 'self'");
    expect(refused([], meta.replace('<head>', '<head></head><body>'))[0]).toBeNull();
  });

  it('lets elements through by a nonce, and never attributes', () => {
    expect(nonces(["default-src 'unsafe-inline' 'NONCE-q1'"])).toEqual(['q1', 'q1', 'refused']);
    expect(nonces(["script-src 'nonce-aB+/=' 'strict-dynamic'"])).toEqual([null, 'aB+/=', 'refused']);
    expect(nonces(["style-src 'sha256-abc=' 'nonce-q1'"])[0]).toBe('q1');
  });

  it('by one nonce that all policies name: an element carries no more', () => {
    expect(nonces(["style-src 'nonce-a' 'nonce-b'", "style-src 'nonce-b'"])[0]).toBe('b');
    expect(nonces(["style-src 'nonce-a'", "style-src 'unsafe-inline'"])[0]).toBe('a');
    expect(refused(["style-src 'nonce-a'", "style-src 'nonce-b'"])[0]).toBe("style-src 'nonce-a'");
    expect(refused(["style-src 'nonce-a'", "style-src 'self'"])[0]).toBe("style-src 'self'");
  });

  it('takes the first of directives of one name', () => {
    expect(refused(["style-src 'unsafe-inline'; style-src 'none'"])[0]).toBeNull();
  });
});
