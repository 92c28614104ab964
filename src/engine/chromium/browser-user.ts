import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { Trouble } from '../errors.ts';

/** Somebody else than root, as whom Chromium runs. */
export interface BrowserUser {
  name: string;
  uid: number;
  gid: number;
}

/** Part of Debian's util-linux: it becomes what it starts, so that its process is Chromium's. */
const SETPRIV = '/usr/bin/setpriv';

export const isRoot = () => process.getuid?.() === 0;

/**
 * As whom Chromium is to run: root is the only one who can choose, and who has to, since Chromium's sandbox is none as
 * root. WISTREL_CHROMIUM_USER names them; null leaves it as whoever we are.
 *
 * @throws Trouble where there is no such user
 */
export function browserUser(): BrowserUser | null {
  const name = process.env['WISTREL_CHROMIUM_USER'];
  if (!name || !isRoot()) return null;
  if (!existsSync(SETPRIV))
    throw new Trouble(
      'measuring',
      `WISTREL_CHROMIUM_USER needs ${SETPRIV}, which is missing. Install it with: apt-get install util-linux`,
    );
  const id = (which: string) =>
    Number(
      execFileSync('id', [which, '--', name], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }),
    );
  try {
    return { name, uid: id('-u'), gid: id('-g') };
  } catch {
    throw new Trouble(
      'measuring',
      `There is no user “${name}” (WISTREL_CHROMIUM_USER). Name another one, or unset it.`,
    );
  }
}

/** A command, as this user gives it. */
export function asUser({ uid, gid }: BrowserUser, command: string): { command: string; args: string[] } {
  return { command: SETPRIV, args: [`--reuid=${uid}`, `--regid=${gid}`, '--clear-groups', command] };
}
