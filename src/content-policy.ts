/**
 * What the application's own pages may load and run (CSP 3): themselves, and scripts that carry the answer's nonce.
 * Nobody frames them. Styles stand in elements, since the interface's library writes them there.
 */
export function contentPolicy(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "frame-src 'none'",
    "frame-ancestors 'none'",
    "base-uri 'none'",
    "form-action 'self'",
  ].join('; ');
}

/** The nonce that a policy of ours names; nothing where it names none. */
export function nonceIn(policy: string): string | undefined {
  return /'nonce-([^']+)'/.exec(policy)?.[1];
}

/** The same for browsers that do not know frame-ancestors; and no answer is taken for what it does not say it is. */
export const GUARDS: readonly (readonly [name: string, value: string])[] = [
  ['x-frame-options', 'DENY'],
  ['x-content-type-options', 'nosniff'],
  ['referrer-policy', 'no-referrer'],
  // A check is recorded in a window that tells this one of it; whoever opens this one is kept apart all the same.
  ['cross-origin-opener-policy', 'same-origin-allow-popups'],
];
