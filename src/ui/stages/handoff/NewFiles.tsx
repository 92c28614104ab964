import { bytes } from '@/core/path/words';
import type { FileToPutIn } from '@/core/treat/put-in';
import { keysOf } from './FileSection';
import type { Ticks } from './put-in-ticks';

/** Many new files in one: nothing asks for them yet, and they are put into place together. */
export function NewFiles({ files, ticks }: { files: readonly FileToPutIn[]; ticks: Ticks }) {
  const keys = files.flatMap(keysOf);
  const done = keys.filter((key) => ticks.has(key)).length;
  return (
    <section className="put-in" aria-label="New files">
      <h3>
        <label>
          <input
            type="checkbox"
            checked={done === keys.length}
            onChange={(event) => ticks.set(keys, event.target.checked)}
          />
          {files.length} new files
        </label>
        <span className="muted">
          put them there first, from the archive · {bytes(files.reduce((sum, one) => sum + one.bytes, 0))} ·{' '}
          {done} of {keys.length} put in
        </span>
      </h3>
      <p className="muted">Taken back: delete them, once nothing asks for them.</p>
      <details>
        <summary>Each of them</summary>
        {files.map((file) => (
          <div key={file.key}>
            <label>
              <input
                type="checkbox"
                checked={keysOf(file).every((key) => ticks.has(key))}
                onChange={(event) => ticks.set(keysOf(file), event.target.checked)}
              />
              <code>{file.name}</code>
            </label>{' '}
            <span className="muted">{bytes(file.bytes)}</span>
          </div>
        ))}
      </details>
    </section>
  );
}
