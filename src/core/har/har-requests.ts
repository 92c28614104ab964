import type { Capture } from '../measure/exchange.ts';
import type { RequestTiming } from '../measure/run.ts';

/**
 * The requests of a capture as the live site answered them: what can be mapped of a HAR that holds no bodies.
 * Times are ms from the first request.
 */
export function liveRequests(capture: Capture): RequestTiming[] {
  return capture.exchanges.map((exchange): RequestTiming => {
    const { timings, startMs } = exchange;
    const connected = (timings?.dnsMs ?? 0) + (timings?.connectMs ?? 0);
    const connectStart = startMs + (timings?.queuedMs ?? 0);
    const sent = connectStart + connected;
    const firstByte = timings ? sent + timings.sendMs + timings.waitMs : null;
    const failed = exchange.outcome.state === 'failed' ? exchange.outcome.reason : null;
    return {
      id: String(exchange.order),
      url: exchange.url,
      method: exchange.method,
      kind: exchange.kind,
      discovery: exchange.kind === 'document' ? { by: 'navigation' } : exchange.discovery,
      blocking: exchange.blocking,
      priority: exchange.priorities[0] ?? '',
      laterPriorities: exchange.priorities.slice(1),
      startMs,
      connectMs: connected > 0 ? { start: connectStart, end: sent } : null,
      sentMs: timings ? sent : null,
      firstByteMs: firstByte,
      endMs: firstByte === null ? null : firstByte + timings!.receiveMs,
      status: exchange.status,
      wireBytes: exchange.wireBytes,
      failed,
    };
  });
}
