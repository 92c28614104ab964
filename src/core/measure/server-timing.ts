/** One metric of a Server-Timing header. */
export interface ServerMetric {
  name: string;
  /** What the server calls it in words; null where it does not. */
  description: string | null;
  /** Null where it tells no duration. */
  durationMs: number | null;
}

/**
 * Reads the values of Server-Timing headers (W3C Server Timing, section 4.3: "parse a server-timing header field").
 * Parameters that are not known, or that come a second time, are passed over.
 */
export function readServerTiming(values: readonly string[]): ServerMetric[] {
  return values.flatMap((value) =>
    splitOutside(value, ',').flatMap((written): ServerMetric[] => {
      const [name = '', ...parameters] = splitOutside(written, ';').map((part) => part.trim());
      if (!name) return [];
      const metric: ServerMetric = { name, description: null, durationMs: null };
      for (const parameter of parameters) {
        const at = parameter.indexOf('=');
        const key = (at < 0 ? parameter : parameter.slice(0, at)).trim().toLowerCase();
        const given = at < 0 ? '' : unquoted(parameter.slice(at + 1).trim());
        if (key === 'desc') metric.description ??= given;
        if (key === 'dur') metric.durationMs ??= Number.parseFloat(given) || 0;
      }
      return [metric];
    }),
  );
}

/** Splits a text at a sign, but not within quoted strings (RFC 9110, 5.6.4). */
function splitOutside(text: string, sign: string): string[] {
  const parts = [''];
  let quoted = false;
  for (let at = 0; at < text.length; at++) {
    const letter = text[at]!;
    if (letter === '"') quoted = !quoted;
    if (letter === sign && !quoted) parts.push('');
    else parts[parts.length - 1] += quoted && letter === '\\' ? letter + (text[++at] ?? '') : letter;
  }
  return parts;
}

function unquoted(value: string): string {
  return value.startsWith('"')
    ? value
        .slice(1)
        .replace(/"[^"]*$/, '')
        .replaceAll(/\\(.)/g, '$1')
    : value;
}
