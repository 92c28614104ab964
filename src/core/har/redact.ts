import type { HarEntry, HarFile, HarPair } from './format.ts';

/** What stands where something was left out. */
const REDACTED = 'redacted';

/** Headers whose values let somebody in, or say who somebody is. */
const SECRET_HEADER =
  /^(cookie|set-cookie|authorization|proxy-authorization|www-authenticate|x-(api|auth|csrf|xsrf)[\w-]*|[\w-]*token)$/i;

/** Tells headers whose values are secret, by their names. @param given headers the user gave: always secret */
export function isSecretHeader(given: readonly string[]): (name: string) => boolean {
  const own = new Set(given.map((one) => one.toLowerCase()));
  return (name) => SECRET_HEADER.test(name) || own.has(name.toLowerCase());
}

/** Parameters of addresses that do. */
const SECRET_PARAMETER =
  /(^|[_-])(token|jwt|auth|authorization|api_?key|access_?key|key|secret|password|passwd|pwd|pass|session(_?id)?|sid|sig|signature|code|ticket|nonce)$/i;

/** Headers that hold an address. */
const ADDRESSES = /^(referer|location|content-location)$/i;

/**
 * A HAR without what lets somebody in: cookies and authorisation, such parameters of addresses, names and passwords in
 * them, and whatever was posted. The HAR's comment says what was left out. Bodies of answers stay as they are: a page
 * may repeat any of it.
 *
 * @param secretHeaders headers the user gave: always secret, whatever their name
 */
export function redacted(har: HarFile, secretHeaders: readonly string[]): HarFile {
  const redacting = new Redacting(secretHeaders);
  const entries = har.log.entries.map((entry) => redacting.entry(entry));
  const pages = har.log.pages.map((page) => ({ ...page, title: redacting.address(page.title, false) }));
  return { log: { ...har.log, pages, entries, comment: redacting.comment } };
}

class Redacting {
  #isSecret: (name: string) => boolean;
  #headers = new Map<string, number>();
  #parameters = new Map<string, number>();
  #logins = 0;
  #posted = 0;

  constructor(secretHeaders: readonly string[]) {
    this.#isSecret = isSecretHeader(secretHeaders);
  }

  entry(entry: HarEntry): HarEntry {
    const { request, response } = entry;
    const { postData } = request;
    if (postData?.text) this.#posted++;
    return {
      ...entry,
      request: {
        ...request,
        url: this.address(request.url, true),
        headers: request.headers.map((one) => this.#header(one)),
        queryString: request.queryString.map(({ name, value }) => ({
          name,
          value: SECRET_PARAMETER.test(name) ? REDACTED : value,
        })),
        ...(postData ? { postData: { ...postData, text: postData.text ? REDACTED : '' } } : {}),
      },
      response: {
        ...response,
        headers: response.headers.map((one) => this.#header(one)),
        redirectURL: this.address(response.redirectURL, false),
      },
    };
  }

  get comment(): string {
    const parts = [
      ...counted(this.#headers, 'header'),
      ...counted(this.#parameters, 'parameter of addresses'),
      ...(this.#logins ? [`names and passwords in addresses (${this.#logins})`] : []),
      ...(this.#posted ? [`what was posted (${this.#posted})`] : []),
    ];
    return parts.length ? `Left out: ${parts.join('; ')}.` : 'Nothing had to be left out.';
  }

  #header({ name, value }: HarPair): HarPair {
    if (this.#isSecret(name)) {
      count(this.#headers, name.toLowerCase());
      return { name, value: REDACTED };
    }
    return { name, value: ADDRESSES.test(name) ? this.address(value, false) : value };
  }

  /** Changed only where something is left out: what a page asks for has to be found again. @param told counts it */
  address(address: string, told: boolean): string {
    if (!URL.canParse(address)) return address;
    const url = new URL(address);
    const found = [...new Set(url.searchParams.keys())].filter((name) => SECRET_PARAMETER.test(name));
    const login = url.username !== '' || url.password !== '';
    if (found.length === 0 && !login) return address;
    for (const name of found) {
      if (told) count(this.#parameters, name);
      url.searchParams.set(name, REDACTED);
    }
    if (login) {
      if (told) this.#logins++;
      url.username = url.password = '';
    }
    return url.href;
  }
}

function count(counts: Map<string, number>, name: string): void {
  counts.set(name, (counts.get(name) ?? 0) + 1);
}

/** "headers: cookie (3), authorization". */
function counted(counts: ReadonlyMap<string, number>, what: string): string[] {
  if (counts.size === 0) return [];
  const names = [...counts].map(([name, times]) => (times > 1 ? `${name} (${times})` : name));
  const several = what.replace(/^\w+/, (word) => `${word}s`);
  return [`values of ${several} ${names.join(', ')}`];
}
