import { validateHeaderName, validateHeaderValue } from 'node:http';
import type { Header } from '../../core/measure/exchange.ts';
import { headerOf } from '../../core/measure/headers.ts';

const MOVED = /^expires$/i;

/**
 * Moves the dates of an answer by what has passed since the capture, so that what was fresh then is fresh now:
 * Expires and the expiry of cookies (RFC 9111, section 5.3; RFC 6265, section 5.2.1). Last-Modified stays, as
 * it names a version.
 */
export function moveDates(headers: readonly Header[], byMs: number): Header[] {
  return headers.map(([name, value]): Header => {
    if (MOVED.test(name)) return [name, movedDate(value, byMs) ?? value];
    if (/^set-cookie$/i.test(name)) {
      return [
        name,
        value.replace(/(;\s*expires=)([^;]+)/i, (whole, start: string, date: string) => {
          const moved = movedDate(date, byMs);
          return moved ? start + moved : whole;
        }),
      ];
    }
    return [name, value];
  });
}

function movedDate(text: string, byMs: number): string | null {
  const time = Date.parse(text);
  return Number.isNaN(time) ? null : new Date(time + byMs).toUTCString();
}

/**
 * Whether a conditional request is answered "not modified" (RFC 9110, section 13.2.2): If-None-Match decides
 * where it is there, else If-Modified-Since.
 */
export function isNotModified(
  request: { ifNoneMatch: string | undefined; ifModifiedSince: string | undefined },
  headers: readonly Header[],
): boolean {
  const value = (wanted: string) => headerOf(headers, wanted);
  if (request.ifNoneMatch !== undefined) {
    const tag = value('etag');
    const weak = (text: string) => text.trim().replace(/^W\//, '');
    return (
      tag !== undefined &&
      (request.ifNoneMatch.trim() === '*' ||
        request.ifNoneMatch.split(',').some((one) => weak(one) === weak(tag)))
    );
  }
  if (request.ifModifiedSince !== undefined) {
    const [since, last] = [Date.parse(request.ifModifiedSince), Date.parse(value('last-modified') ?? '')];
    return since >= last;
  }
  return false;
}

/** Instead of a status that cannot be sent: the capture holds nothing that could be. */
const BAD_GATEWAY = 502;

/** A captured status as it can be sent: others than final ones a server may not answer with (RFC 9110, section 15). */
export function sendableStatus(status: number): number {
  return Number.isInteger(status) && status >= 200 && status <= 599 ? status : BAD_GATEWAY;
}

/** Whether a captured header can be sent: a HAR, or a server that nothing checks, may name anything. */
export function isSendable([name, value]: Header): boolean {
  try {
    validateHeaderName(name);
    validateHeaderValue(name, value);
    return true;
  } catch {
    return false;
  }
}
