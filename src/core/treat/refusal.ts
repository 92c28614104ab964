import type { SaidBy } from '../images/image-places.ts';
import type { InlineKind } from '../html/content-policy.ts';
import type { NextObjection } from '../next/next-assets.ts';
import type { RuleKind } from './plan.ts';

/** A place in a script: which one, its line (of the page for inline scripts), and what stands there. */
export interface Place {
  /** Name of the file; null for the page itself. */
  file: string | null;
  line: number;
  excerpt: string;
}

/** What would be other for a script that reads a name. */
export type OrderChange =
  | 'read while parsed'
  | 'reader deferred before'
  | 'may come late'
  | 'needed before'
  | 'found already'
  /** Both wait, each for something else. */
  | 'waits otherwise'
  | 'gone';

/** What would be other for two scripts in one text. */
export type OneText = { by: 'strict' } | { by: 'name'; name: string } | { by: 'soon'; name: string };

/** What a script does besides what it does with elements that are known by name. */
export type Elsewhere =
  'unknown elements' | 'elements of a sort' | 'whole page' | 'hears page' | 'tells others' | 'unreadable';

/** Why something may not be done to an asset: a code and its facts. `core/words/refusals.ts` says it. */
export type Refusal =
  | { code: 'unreadable'; why: string }
  | { code: 'document-write'; place: Place }
  | { code: 'current-script'; place: Place }
  /** Something goes by the address that it has in the page. */
  | { code: 'own-address'; place: Place }
  | { code: 'event-is-over'; place: Place; certain: boolean }
  | { code: 'policy'; refuses: InlineKind | `${'script' | 'style' | 'image' | 'font'} file`; by: string }
  | { code: 'order'; name: string; reader: Place; how: OrderChange }
  /** Two scripts change the same: the later change counts. */
  | { code: 'both-change'; name: string; first: Place; second: Place }
  /** Two scripts work with the same elements. */
  | { code: 'same-elements'; token: string; first: Place; second: Place }
  /** What one of two scripts does cannot be known by reading it. */
  | { code: 'anything'; unknown: Place; other: Place }
  /** It would find elements that are not there yet where it stands. */
  | { code: 'sees-more'; token: string; place: Place }
  /** It works with more than elements that are known by name, and may be wanted before any of them is near. */
  | { code: 'not-only-there'; works: Elsewhere; place: Place }
  /** It puts something where the parser is. */
  | { code: 'puts-here'; place: Place }
  | { code: 'last-script'; place: Place }
  | { code: 'asks-how-far'; place: Place }
  /** It holds what is of one visit, and would be the same for all visitors as a file. */
  | { code: 'visit-data'; place: Place }
  | { code: 'hiding-read'; reader: string; name: string }
  /** Two scripts would be other in one text than in two. */
  | { code: 'one-text'; first: string; second: string; why: OneText }
  /** Another one would have to have the same treatment, and has not. */
  | { code: 'goes-together'; with: string }
  /** An image or an embed of the first screen would come late. */
  | { code: 'above-fold' }
  /** An image that nobody sees at first would come before what they see. */
  | { code: 'below-fold' }
  /** Nobody has seen where it stands: in a slide that is not shown, say. */
  | { code: 'fold-unknown' }
  | { code: 'keeps-no-room' }
  | { code: 'not-answered'; status: number }
  /** A script sends headers with it that a tag cannot. */
  | { code: 'own-headers'; headers: string[] }
  /** Its address holds a time, or a number drawn: the next one is another. */
  | { code: 'of-the-moment'; part: string }
  /** It was asked for in one of the capture's loads only. */
  | { code: 'not-always' }
  /** A script asks for something in a way that a tag has no words for. */
  | { code: 'asked-otherwise' | 'sets-cookies'; place: Place }
  /** A script had sent something to the same host before it asked. */
  | { code: 'after-sending'; url: string }
  /** Something happens in the page once an embed is there. */
  | { code: 'waited-for'; line: number }
  /** Links and forms may show their pages in an embed that has a name. */
  | { code: 'has-name'; name: string }
  /** An embed's frame lets nothing be done in it but what its own page does. */
  | { code: 'shut-frame'; line: number }
  /** A script may speak to an embed, or wait for what it says: what comes later answers later. */
  | {
      code: 'works-with-embed';
      works:
        | { how: 'goes by it'; name: string }
        | { how: 'looks for any' }
        | { how: 'hears them' }
        | { how: 'unreadable'; why: string };
      place: Place;
    }
  /** Another font has no such signs: boxes and letters would be shown in their place. */
  | { code: 'draws-icons' }
  | { code: 'no-measure' }
  /** A sheet says which signs each of several files is for. */
  | { code: 'font-in-parts' }
  /** None was made of the font's file, or none that is smaller. */
  | { code: 'no-smaller-font' }
  /** The face stands where no other one can be put: in another host's sheet, or in the page where its policy lets no style in. */
  | { code: 'declared-elsewhere'; where: string | null }
  /** A style names it on some screens only: on others it would be asked for in vain. */
  | { code: 'sometimes-shown' }
  /** A style may set the height of an image: it would be out of shape with a width in the markup. */
  | { code: 'height-set'; by: SaidBy }
  /** A style goes by what stands right around an image, or beside it. */
  | { code: 'place-told'; by: SaidBy }
  /** The page's markup chooses between files of an image already, by more than their width or density. */
  | { code: 'chooses-file' }
  /** None were made of the image's file. */
  | { code: 'no-lighter-files' }
  /** A file that stands behind elements is named where no other one can stand beside it. */
  | { code: 'named-otherwise'; where: string }
  /** A script may ask what stands behind elements: it would find several files. */
  | { code: 'script-asks-behind'; script: string }
  /** The page asks for the very file ahead: it would come beside the other one. */
  | { code: 'asked-ahead'; line: number }
  /** The page says it ahead itself. */
  | { code: 'hinted'; line: number }
  | NextObjection
  | { code: 'no-fold-css' }
  | { code: 'sheet-not-captured' }
  | { code: 'fold-not-proved' }
  | { code: 'same-element'; ruleId: string; treatment: string }
  | { code: 'no-such-asset'; kind: RuleKind }
  | { code: 'not-for-this'; treatment: string };
