import { cancelled, inPlainWords, type CertificateOffer, type TroubleKind } from '../errors.ts';
import { carryOut, type Order, type OrderResult, type SoFar } from './orders.ts';

/** Messages of the measuring process to the one that started it. */
export type FromJob =
  | { type: 'progress'; step: string; done: number; of: number }
  | { type: 'so far'; soFar: SoFar }
  | { type: 'result'; result: OrderResult }
  | { type: 'trouble'; kind: TroubleKind; message: string; certificate: CertificateOffer | null };

/** The measuring process: one order, then it ends. It ends too when its parent does or asks for it. */
const cancel = new AbortController();
const send = (message: FromJob) =>
  new Promise<void>((resolve) => (process.connected ? process.send?.(message, () => resolve()) : resolve()));

const tellTrouble = (error: unknown) => {
  const trouble = cancel.signal.aborted ? cancelled() : inPlainWords(error);
  return send({
    type: 'trouble',
    kind: trouble.kind,
    message: trouble.message,
    certificate: trouble.certificate,
  });
};

// What the browser's driver throws where nobody can catch it ends the work as well.
process.on('uncaughtException', (error) => void tellTrouble(error).finally(() => process.exit(1)));
process.on('disconnect', () => process.exit(1));
process.on('SIGTERM', () => {
  cancel.abort();
  setTimeout(() => process.exit(1), 2_500).unref();
});
process.once('message', (order: Order) => {
  carryOut(
    order,
    (step, done, of) => void send({ type: 'progress', step, done, of }),
    cancel.signal,
    (soFar) => void send({ type: 'so far', soFar }),
  )
    .then((result) => send({ type: 'result', result }))
    .catch(tellTrouble)
    .finally(() => process.exit(0));
});
