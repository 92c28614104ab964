'use client';
import { capital } from '@/core/path/words';
import { AS_IS, TREATED } from '@/core/trial/arms';
import { armName } from '@/core/words/arms';
import type { ProveView } from '@/usecases/prove-view';

/** How both arms end up, and where they differ. */
export function FinalPictures({ data }: { data: ProveView }) {
  return (
    <div className="pictures">
      {[`${AS_IS} final`, `${TREATED} final`, 'difference'].map((name) => {
        const found = data.pictures.find((one) => one.name === name);
        const caption =
          name === 'difference'
            ? 'Difference: differing pixels in ink'
            : capital(armName(name.replace(/ final$/, '')));
        return (
          <figure key={name}>
            <figcaption>{caption}</figcaption>
            {found ? (
              <img src={`/api/pictures/picture/${found.id}`} alt={caption} loading="lazy" />
            ) : (
              <p className="muted">No picture was kept.</p>
            )}
          </figure>
        );
      })}
    </div>
  );
}
