import { isInRow, mergedFile, mergingNote, mergingRefusal, restOfRow } from '../merging.ts';
import { authoredMoment } from '../order.ts';
import { tiedToPlace } from '../places.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { defer } from './defer.ts';

/** Scripts of one's own that hold the parser one straight after the other become one file that is deferred. */
export const mergedDeferred: Treatment<'script'> = {
  id: 'merged-defer',
  kind: 'script',
  label: 'merged, and deferred',
  risk: {
    level: 'medium',
    why: 'one that throws stops those after it, and a change of one empties the cache of all',
  },
  settings: NO_SETTINGS,
  moment: 'parsed',
  readersFollow: defer.readersFollow!,
  companions: restOfRow,
  absorbs: [defer.id],
  togetherBecomes: (script, scene) =>
    script.element.url === null ? defer.togetherBecomes!(script, scene) : 'merged-defer',
  isFor: (script, scene) => authoredMoment(script) === 'place' && isInRow(script, scene),
  refuses: (script, scene) => tiedToPlace(script) ?? mergingRefusal(script, scene),
  note: mergingNote,
  contributes(script, scene) {
    const merged = mergedFile(script, scene);
    const { headScripts } = defer.contributes(script, scene);
    return {
      ...merged,
      headScripts: headScripts!,
      elements: merged.elements!.map((one) =>
        'attributes' in one ? { ...one, attributes: { ...one.attributes, defer: '', async: null } } : one,
      ),
    };
  },
};
