import { keepingEarlyClicks } from '../early-clicks.ts';
import { DELAYED_TYPE, DELAY_LOADER, waitingAttributes } from '../waiting-loaders.ts';
import { answersTouch } from '../answers-touch.ts';
import { hidingOf } from '../hiding.ts';
import { waitingRefusal } from '../waiting.ts';
import { NO_SETTINGS, type Treatment } from '../treatment.ts';

/** The script waits for the first interaction, or for some seconds after load. */
export const delay: Treatment<'script'> = {
  id: 'delay',
  kind: 'script',
  label: 'delay until interaction',
  risk: { level: 'medium', why: 'until the first touch, key or scroll what it does is missing' },
  settings: NO_SETTINGS,
  moment: 'later',
  // What hides the page until the delayed script has run would hide it until then.
  togetherBecomes: (script, { hidings }) =>
    hidings.some((one) => one.snippet === script) ? 'left-out' : 'delay',
  readersFollow: ['delay'],
  isFor: () => true,
  refuses: waitingRefusal,
  note(script, scene) {
    if (script.facts.speaksOfConsent) return 'it asks for consent: never delayed by recommendation';
    const answer = answersTouch(script);
    if (answer)
      return `it answers what visitors do (line ${answer.line}): what they do first finds no answer`;
    return hidingOf(script, scene) ? 'the snippet that hides the page goes with it' : null;
  },
  contributes(script, scene) {
    return {
      headScripts: [
        ...keepingEarlyClicks(script, scene),
        { text: DELAY_LOADER, title: 'What runs delayed scripts at the first interaction' },
      ],
      elements: [
        { element: script.element.element, attributes: waitingAttributes(script, scene, DELAYED_TYPE) },
      ],
    };
  },
};
