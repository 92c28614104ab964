import { CALL_FAILED } from './api';

/**
 * Has the application write a backup, and hands it to the browser to be kept.
 *
 * @param onGot told how much there is so far, and of how much, bytes
 * @returns what the file is called, and how large it is
 * @throws Error with a plain sentence, where none came to its end; the signal's reason where it was cancelled
 */
export async function saveBackup(
  signal: AbortSignal,
  onGot: (gotBytes: number, ofBytes: number) => void,
): Promise<{ name: string; gotBytes: number }> {
  const response = await fetch('/api/backup', { signal }).catch((error: unknown) => {
    throw signal.aborted ? error : new Error(CALL_FAILED);
  });
  if (!response.ok || !response.body) {
    const told = (await response.json().catch(() => null)) as { error?: string } | null;
    throw new Error(told?.error ?? `The application answered ${response.status}.`);
  }
  let gotBytes = 0;
  const ofBytes = Number(response.headers.get('content-length'));
  const parts: Uint8Array<ArrayBuffer>[] = [];
  const reader = response.body.getReader();
  try {
    for (let part = await reader.read(); !part.done; part = await reader.read()) {
      parts.push(new Uint8Array(part.value));
      onGot((gotBytes += part.value.length), ofBytes);
    }
  } catch (error) {
    if (signal.aborted) throw error;
    throw new Error('The backup broke off and was not kept. Nothing stored was changed. Try it again.');
  }
  const address = URL.createObjectURL(new Blob(parts));
  const link = document.createElement('a');
  link.href = address;
  const name = nameOf(response);
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
  return { name, gotBytes };
}

function nameOf(response: Response): string {
  return (
    /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'wistrel-backup.tgz'
  );
}
