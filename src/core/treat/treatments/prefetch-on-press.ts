import { fileNameOf } from '../../path/names.ts';
import { addressIn } from '../new-files.ts';
import { policyRefusal } from '../policy.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** Asked for when a visitor points at its link or begins to press it: nothing is asked for in vain, and less is gained. */
export const prefetchOnPress: Treatment<'next'> = {
  id: 'prefetch-on-press',
  kind: 'next',
  label: 'prefetched on press',
  risk: { level: 'low', why: 'only who presses the link asks for the bytes' },
  settings: NO_SETTINGS,
  isFor: ({ as }) => as === 'document',
  refuses: ({ objection }, { page }) => objection ?? policyRefusal(page, [['script']]),
  note: () => 'browsers without speculation rules do as before',
  contributes({ url }, { page }) {
    const rules = {
      prefetch: [{ source: 'list', eagerness: 'moderate', urls: [addressIn(page, url)] }],
    };
    // JSON in a script element: nothing in it may look like its end.
    const text = JSON.stringify(rules).replaceAll('<', '\\u003c');
    return {
      endScripts: [{ title: `${fileNameOf(url)}: asked for on press`, text, type: 'speculationrules' }],
    };
  },
};
