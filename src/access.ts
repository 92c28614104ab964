import { timingSafeEqual } from 'node:crypto';
import { OWN_HEADER } from './own-header';

/** What whoever started the application knows, and nobody else on the machine; unset, nobody is asked for it. */
export const TOKEN = 'WISTREL_TOKEN';
/** The parameter of the printed address that carries it. */
export const TOKEN_PARAMETER = 'token';
export const UNKNOWN = {
  error:
    'This is open to whoever started Wistrel: open the address that it printed when it was started. Nothing stored was changed.',
};

/** What a request is to the application. */
export type Access =
  /** The printed address was opened: from now on a cookie stands for it. */
  { is: 'opened'; cookie: string } | { is: 'known' } | { is: 'unknown' };

/**
 * Whether a request comes from who started the application: by the printed address, or by the cookie that it became.
 * What changes something has to be one of our own pages' besides.
 */
export function accessOf(request: Request): Access {
  const token = process.env[TOKEN];
  if (!token) return { is: 'known' };
  const url = new URL(request.url);
  const isReading = /^(GET|HEAD)$/.test(request.method);
  const isApi = url.pathname.startsWith('/api/');
  const given = url.searchParams.get(TOKEN_PARAMETER);
  const name = cookieName(request.headers.get('host') ?? '');
  if (given !== null && isReading && !isApi)
    return isSame(given, token)
      ? { is: 'opened', cookie: `${name}=${token}; Path=/; HttpOnly; SameSite=Strict` }
      : { is: 'unknown' };
  if (!isSame(cookieOf(request, name), token)) return { is: 'unknown' };
  return isReading || request.headers.has(OWN_HEADER) ? { is: 'known' } : { is: 'unknown' };
}

/** Cookies know no ports: two applications on one machine would put away each other's. */
export const cookieName = (host: string) => `wistrel-${/:(\d+)$/.exec(host)?.[1] ?? '80'}`;

function cookieOf(request: Request, name: string): string {
  const all = (request.headers.get('cookie') ?? '').split(/;\s*/);
  return all.find((one) => one.startsWith(`${name}=`))?.slice(name.length + 1) ?? '';
}

function isSame(a: string, b: string): boolean {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
}
