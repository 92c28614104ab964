import { listJobs } from '@/store/jobs';
import { applicationDatabase } from '@/usecases/application';
import { jobView } from '@/usecases/jobs';

export const dynamic = 'force-dynamic';

/** How soon what changed is told, ms. */
const LOOK_EVERY_MS = 500;
/** A line that nothing comes over is taken for dead by what stands between, ms. */
const ALIVE_EVERY_MS = 15_000;

/** All jobs, told again whenever one of them is other than before (HTML, "server-sent events"). */
export function GET({ signal }: Request): Response {
  const encoder = new TextEncoder();
  let over = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const end = () => {
    over = true;
    clearTimeout(timer);
  };
  signal.addEventListener('abort', end);
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      let before = '';
      let toldAt = 0;
      const look = async () => {
        try {
          const now = JSON.stringify((await listJobs(await applicationDatabase())).map(jobView));
          if (over) return;
          const isOther = now !== before;
          if (isOther || performance.now() - toldAt > ALIVE_EVERY_MS) {
            controller.enqueue(encoder.encode(isOther ? `data: ${now}\n\n` : ':\n\n'));
            toldAt = performance.now();
          }
          before = now;
          timer = setTimeout(() => void look(), LOOK_EVERY_MS);
        } catch {
          // The database does not answer, or nobody listens any more: who still does asks anew.
          if (!over) controller.close();
          end();
        }
      };
      void look();
    },
    cancel: end,
  });
  return new Response(body, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform' },
  });
}
