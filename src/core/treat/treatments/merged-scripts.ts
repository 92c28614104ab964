import { isInRow, mergedFile, mergingNote, mergingRefusal, restOfRow } from '../merging.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Scripts of one's own that run one straight after the other become one file, at the place of the first. */
export const mergedScripts: Treatment<'script'> = {
  id: 'merged',
  kind: 'script',
  label: 'merged into one file',
  risk: {
    level: 'medium',
    why: 'one that throws stops those after it, and a change of one empties the cache of all',
  },
  settings: NO_SETTINGS,
  isFor: isInRow,
  refuses: mergingRefusal,
  companions: restOfRow,
  togetherBecomes: () => 'merged',
  note: mergingNote,
  contributes: mergedFile,
};
