import { PreviewServer, type PreviewLoad } from './preview-server.ts';

/** Messages to the process that serves a preview, and from it. */
export type ToPreview = { type: 'serve'; load: PreviewLoad; idleMs: number };
export type FromPreview = { type: 'serving'; url: string } | { type: 'failed'; message: string };

/** Serves one preview; it ends with its parent, and when nobody has looked at it for some time. */
process.once('message', ({ load, idleMs }: ToPreview) => {
  const server = new PreviewServer(load);
  const tell = (message: FromPreview) => process.send?.(message);
  server.listen().then(
    (url) => tell({ type: 'serving', url }),
    (error: unknown) =>
      tell({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
  );
  setInterval(() => server.idleMs > idleMs && process.exit(0), Math.min(60_000, idleMs));
});
process.on('disconnect', () => process.exit(0));
