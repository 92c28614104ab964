import { NoHtml } from '../core/page/captured-page.ts';

/** Why something could not be done, in a plain sentence, and whose fault it is. */
export type TroubleKind = 'input' | 'certificate' | 'measuring' | 'cancelled';

/** An error that is told to the user as it is: what happened and what to do. */
export class Trouble extends Error {
  readonly kind: TroubleKind;
  /** For a certificate of a server's own making: what may be accepted. */
  readonly certificate: CertificateOffer | null;

  constructor(kind: TroubleKind, message: string, certificate: CertificateOffer | null = null) {
    super(message);
    this.name = 'Trouble';
    this.kind = kind;
    this.certificate = certificate;
  }
}

/** A certificate that was met and can be accepted for those hosts that showed it. */
export interface CertificateOffer {
  hosts: string[];
  /** SHA-256 of the public key, base64: what Chromium is told to accept. */
  publicKeyHash: string;
  subject: string;
  validTo: string;
}

/** What a cancelled work ends in. */
export function cancelled(): Trouble {
  return new Trouble('cancelled', 'Cancelled. What was stored before is unchanged.');
}

/** Throws when the work was cancelled. */
export function stopIfCancelled(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw cancelled();
}

/** What the browser's driver says when the browser, a page or a frame went away under it. */
const WENT_AWAY =
  /Target closed|Session closed|detached Frame|frame (was|got) detached|Connection closed|Target crashed|Page crashed|Navigating frame was detached/i;

/** How the browser's driver speaks of its own: that tells nobody anything. */
const OF_THE_DRIVER =
  /protocol error|protocolTimeout|execution context|JSHandle|ProtocolError|Runtime\.|Session with given id|CDP/i;

/** Whether an error says that the browser, a page or a frame went away. */
export function wentAway(error: unknown): boolean {
  return WENT_AWAY.test(error instanceof Error ? error.message : String(error));
}

/** More came at once than a text can hold (Node's own error): the driver sends bodies as text. */
const isTooMuch = (error: unknown) =>
  error instanceof Error && 'code' in error && error.code === 'ERR_STRING_TOO_LONG';

const TOO_MUCH =
  'The page sent more in one file than can be held: half a gigabyte, unpacked. Nothing stored was changed. Find the file, and measure a page without it.';

/** An error of the work as a sentence; that Chromium went away in the middle is told as that. */
export function inPlainWords(error: unknown): Trouble {
  if (error instanceof Trouble) return error;
  if (error instanceof NoHtml) return new Trouble('input', error.message);
  if (isTooMuch(error)) return new Trouble('measuring', TOO_MUCH);
  const text = (error instanceof Error ? error.message : String(error)).split('\n')[0]!;
  const what = wentAway(error)
    ? 'Chromium, or a page in it, ended in the middle of the work'
    : OF_THE_DRIVER.test(text)
      ? 'The page did not answer what it was asked in the middle of the work'
      : `Measuring broke off: ${text.replace(/\.$/, '')}`;
  return new Trouble('measuring', `${what}. Nothing stored was changed; try again.`);
}
