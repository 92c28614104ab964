import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import {
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';

const CIPHER = 'aes-256-gcm';
const [ID, IV, TAG, KEY] = [16, 12, 16, 32];

/**
 * Secrets, each under a key of its own that lies in a file of its own beside the database: a copy of the database is
 * nothing without them, and what was forgotten cannot be read again, wherever its bytes still lie.
 */
export class SealBox {
  #folder: string;

  /** @param folder where the keys are, made on first use */
  constructor(folder: string) {
    this.#folder = folder;
  }

  /** @returns id of the key, nonce, tag and what was enciphered, one after the other (NIST SP 800-38D) */
  seal(text: string): Uint8Array {
    const [id, key, iv] = [randomBytes(ID), randomBytes(KEY), randomBytes(IV)];
    mkdirSync(this.#folder, { recursive: true, mode: 0o700 });
    // On the disk before anything is kept that cannot be read without it.
    const file = openSync(this.#fileOf(id), 'wx', 0o600);
    writeSync(file, key);
    fsyncSync(file);
    closeSync(file);
    const cipher = createCipheriv(CIPHER, key, iv);
    const enciphered = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return new Uint8Array(Buffer.concat([id, iv, cipher.getAuthTag(), enciphered]));
  }

  /** The text; null where its key is not here, or it is not what was sealed. */
  open(sealed: Uint8Array): string | null {
    const part = (from: number, length: number) => sealed.subarray(from, from + length);
    try {
      const key = readFileSync(this.#fileOf(part(0, ID)));
      const decipher = createDecipheriv(CIPHER, key, part(ID, IV), { authTagLength: TAG });
      decipher.setAuthTag(part(ID + IV, TAG));
      const text = Buffer.concat([decipher.update(sealed.subarray(ID + IV + TAG)), decipher.final()]);
      return text.toString('utf8');
    } catch {
      return null;
    }
  }

  /** Destroys the key: what it sealed cannot be read any more. */
  forget(sealed: Uint8Array): void {
    const file = this.#fileOf(sealed.subarray(0, ID));
    try {
      writeFileSync(file, randomBytes(KEY), { flag: 'r+' });
    } catch {
      // It is gone already.
    }
    rmSync(file, { force: true });
  }

  #fileOf(id: Uint8Array): string {
    return join(this.#folder, Buffer.from(id).toString('hex'));
  }
}
