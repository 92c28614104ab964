import { keepingEarlyClicks } from '../early-clicks.ts';
import { attribute } from '../../html/markup.ts';
import { fileNameOf } from '../../path/names.ts';
import { waitingRefusal } from '../waiting.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';
import { AFTER_PAINT_LOADER, AFTER_PAINT_TYPE, waitingAttributes } from '../waiting-loaders.ts';

/** The script is asked for early and runs once the first content is on screen, without waiting for a visitor. */
export const afterPaint: Treatment<'script'> = {
  id: 'after-paint',
  kind: 'script',
  label: 'after first paint',
  risk: { level: 'medium', why: 'it runs after the first frame: what it draws comes a moment later' },
  settings: NO_SETTINGS,
  moment: 'later',
  readersFollow: ['after-paint'],
  togetherBecomes: () => 'after-paint',
  isFor: () => true,
  refuses: waitingRefusal,
  note: () => 'runs by itself, once the first content is on screen',
  contributes(script, scene) {
    const { element, module, url } = script.element;
    const { attributes } = element;
    const kept = ['crossorigin', 'integrity', 'nonce', 'referrerpolicy']
      .map((name) => attribute(name, attributes[name] ?? null))
      .join('');
    const how = module ? 'rel="modulepreload"' : 'rel="preload" as="script"';
    const src = attributes['src'];
    return {
      headScripts: [
        ...keepingEarlyClicks(script, scene),
        { text: AFTER_PAINT_LOADER, title: 'What runs scripts once the first content is on screen' },
      ],
      headTags:
        url === null || src === undefined
          ? []
          : [
              {
                title: `${fileNameOf(url)}: asked for early`,
                tag: `<link ${how}${attribute('href', url)} fetchpriority="low"${kept}>`,
              },
            ],
      elements: [{ element, attributes: waitingAttributes(script, scene, AFTER_PAINT_TYPE) }],
    };
  },
};
