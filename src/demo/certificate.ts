import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { makeCertificate, type OwnCertificate } from '../engine/chromium/certificates.ts';
import { SKERRAVANE } from './site/names.ts';
import { hostNames } from './site/server.ts';

/** The demo's ports: the seed's addresses name the first. */
const PORTS = { httpsPort: 9443, httpPort: 9480 };

/** Where the demo site is served. Elsewhere (WISTREL_DEMO_PORT and the port after it) it stands beside another one, without the seed's results. */
export function demoPorts(): { httpsPort: number; httpPort: number } {
  const other = Number(process.env['WISTREL_DEMO_PORT']);
  return other > 0 ? { httpsPort: other, httpPort: other + 1 } : PORTS;
}

/** The demo's own certificate, made once and kept in its folder, so that what was accepted stays accepted. */
export async function demoCertificate(folder: string): Promise<OwnCertificate> {
  const file = join(folder, 'certificate.json');
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as OwnCertificate;
  const made = await makeCertificate(hostNames(SKERRAVANE));
  mkdirSync(folder, { recursive: true });
  writeFileSync(file, JSON.stringify(made), { mode: 0o600 });
  return made;
}
