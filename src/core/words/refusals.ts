import type { InlineKind } from '../html/content-policy.ts';
import type { Elsewhere, Place, Refusal } from '../treat/refusal.ts';

const INLINE_WORDS: Record<InlineKind | `${'script' | 'style' | 'image' | 'font'} file`, string> = {
  'script file': 'new script files of the page’s own host',
  'style file': 'new stylesheets of the page’s own host',
  'image file': 'images of the page’s own host',
  'font file': 'fonts of the page’s own host',
  style: 'styles in the page',
  script: 'new scripts in the page',
  handler: 'the attribute that lets a late sheet apply',
};

const ELSEWHERE_WORDS: Record<Elsewhere, string> = {
  'unknown elements': 'which elements it works with cannot be known by reading it',
  'elements of a sort': 'it works with all elements of a sort, which stand anywhere',
  'whole page': 'it does something to the page as a whole, wherever a visitor is',
  'hears page': 'it hears what visitors do anywhere on the page',
  'tells others': 'it keeps or sends something, wherever a visitor is',
  unreadable: 'what it puts into the page could not be read',
};

const VISIT_WORDS = {
  cookies: 'it sets cookies',
  'no-store': 'it is not to be stored',
  'signed in': 'it was captured signed in',
} as const;

const HERE_WORDS = {
  'puts-here': 'puts something at the place where it stands',
  'last-script': 'looks for itself as the last element so far',
} as const;

/** Why something is refused, as a clause without its full stop. */
export function refusalWords(refusal: Refusal): string {
  if (isOfShown(refusal)) return shownWords(refusal);
  switch (refusal.code) {
    case 'unreadable':
      return `it could not be read (${refusal.why})`;
    case 'document-write':
      return `it writes into the page while it is parsed: ${placeWords(refusal.place)}`;
    case 'current-script':
      return `currentScript would be another element: ${placeWords(refusal.place)}`;
    case 'own-address':
      return `something goes by its address: ${placeWords(refusal.place)}`;
    case 'event-is-over':
      return `its listener ${refusal.certain ? 'waits for an event that is over by then' : 'might be set too late'}: ${placeWords(refusal.place)}`;
    case 'policy':
      return `the page’s Content-Security-Policy refuses ${INLINE_WORDS[refusal.refuses]} (${refusal.by})`;
    case 'order':
      return orderWords(refusal);
    case 'both-change':
    case 'same-elements':
    case 'anything':
      return sharedWords(refusal);
    case 'sees-more':
      return seesWords(refusal);
    case 'not-only-there':
      return `${ELSEWHERE_WORDS[refusal.works]}: ${placeWords(refusal.place)}`;
    case 'puts-here':
    case 'last-script':
      return `it ${HERE_WORDS[refusal.code]}: ${placeWords(refusal.place)}`;
    case 'asks-how-far':
      return `it goes by how far the page is: ${placeWords(refusal.place)}`;
    case 'visit-data':
      return `it holds what is of one visit, and a file would give that to all: ${placeWords(refusal.place)}`;
    case 'hiding-read':
      return `${refusal.reader} reads “${refusal.name}”, which the snippet that hides the page defines`;
    case 'one-text':
      return oneTextWords(refusal);
    case 'hinted':
      return `line ${refusal.line} of the page has that hint already`;
    case 'goes-together':
      return `${refusal.with} would have to go with it`;
    case 'not-kept':
    case 'of-one-visit':
    case 'sends-on':
    case 'address-acts':
      return nextWords(refusal);
    case 'not-answered':
    case 'own-headers':
    case 'of-the-moment':
    case 'not-always':
    case 'asked-otherwise':
    case 'sets-cookies':
    case 'after-sending':
      return dataWords(refusal);
    case 'no-fold-css':
      return 'there is no fold CSS for it: generate it first';
    case 'sheet-not-captured':
      return 'the capture does not hold it, as its host did not answer: measure the page again when it does';
    case 'fold-not-proved':
      return 'its fold CSS is not proved: look at what differs, then decide to use it in the Fold CSS stage';
    case 'same-element':
      return `rule ${refusal.ruleId} (${refusal.treatment}) is about the same element`;
    case 'no-such-asset':
      return refusal.kind === 'next'
        ? 'no measured page that this one links to needs it, or this one asks for it itself'
        : `the page has no such ${refusal.kind.replace(/-file$/, '')}`;
    case 'not-for-this':
      return `${refusal.treatment} is not for this`;
  }
}

function seesWords({ token, place }: Extract<Refusal, { code: 'sees-more' }>): string {
  return token === '*'
    ? `it looks for elements that cannot be known by reading it, and would find those that stand after it as well: ${placeWords(place)}`
    : `it would find elements that stand after it as well (${token}): ${placeWords(place)}`;
}

type NextCode = 'not-kept' | 'of-one-visit' | 'sends-on' | 'address-acts';

/** Of what next pages need. */
function nextWords(refusal: Extract<Refusal, { code: NextCode }>): string {
  switch (refusal.code) {
    case 'not-kept':
      return `browsers may not keep it until then (${refusal.header})`;
    case 'of-one-visit':
      return `its document is made for one visit (${VISIT_WORDS[refusal.why]})`;
    case 'sends-on':
      return `its link leads to an address that only sends on to ${refusal.to}: link to that one`;
    case 'address-acts':
      return `its address reads as if it did something, or belonged to one visitor (“${refusal.part}”): nobody asked for that`;
  }
}

type DataCode =
  | 'not-answered'
  | 'own-headers'
  | 'of-the-moment'
  | 'not-always'
  | 'asked-otherwise'
  | 'sets-cookies'
  | 'after-sending';

/** Of what scripts ask for by themselves. */
function dataWords(refusal: Extract<Refusal, { code: DataCode }>): string {
  switch (refusal.code) {
    case 'not-answered':
      return `it was answered with ${refusal.status} when the page was captured`;
    case 'own-headers':
      return `the script that asks sends headers of its own (${refusal.headers.join(', ')}), and a tag cannot: it may be answered otherwise`;
    case 'of-the-moment':
      return `its address is another at each visit (“${refusal.part}”)`;
    case 'not-always':
      return 'it was asked for in one load of the capture only';
    case 'asked-otherwise':
      return `a script asks for something with credentials or in a mode of its own, and a tag would have to ask alike: ${placeWords(refusal.place)}`;
    case 'sets-cookies':
      return `a script sets a cookie, which goes with the request: asked for before, it may be answered otherwise: ${placeWords(refusal.place)}`;
    case 'after-sending':
      return `a script sends something to the same host before it asks (${refusal.url}): asked for before that, it may be answered otherwise`;
  }
}

const SHOWN_CODES = [
  'above-fold',
  'below-fold',
  'fold-unknown',
  'keeps-no-room',
  'waited-for',
  'has-name',
  'shut-frame',
  'works-with-embed',
  'draws-icons',
  'no-measure',
  'font-in-parts',
  'no-smaller-font',
  'declared-elsewhere',
  'sometimes-shown',
  'height-set',
  'place-told',
  'chooses-file',
  'asked-ahead',
  'no-lighter-files',
  'named-otherwise',
  'script-asks-behind',
] as const;
type ShownRefusal = Extract<Refusal, { code: (typeof SHOWN_CODES)[number] }>;

function isOfShown(refusal: Refusal): refusal is ShownRefusal {
  return SHOWN_CODES.some((code) => code === refusal.code);
}

/** Of what is shown on the page: images, embeds and fonts. */
function shownWords(refusal: ShownRefusal): string {
  switch (refusal.code) {
    case 'above-fold':
      return 'it stands on the first screen';
    case 'below-fold':
      return 'it does not stand on the first screen: what stands there would come later';
    case 'fold-unknown':
      return 'nobody saw it below the first screen: it stood nowhere, or the page has to be measured again';
    case 'keeps-no-room':
      return 'its markup says no size: what stands under it would jump when it comes';
    case 'waited-for':
      return `something happens in the page once it is there (line ${refusal.line} of the page)`;
    case 'has-name':
      return `links and forms may show their pages in it, as it has a name (“${refusal.name}”)`;
    case 'shut-frame':
      return `what its frame lets be done in it is said by its tag (line ${refusal.line} of the page), and a stand-in cannot be tried in it`;
    case 'works-with-embed':
      return worksWords(refusal);
    case 'no-measure':
      return 'how wide its text is cannot be told: its file cannot be read, the page’s HTML has too little text of it, its rule has measures of its own, or no stylesheet lists it';
    case 'font-in-parts':
      return 'its sheet says already which signs each of its files is for';
    case 'no-smaller-font':
      return 'no file with fewer signs was made of it, or none that is smaller: make lighter files in Treat';
    case 'declared-elsewhere':
      return refusal.where === null
        ? 'its face is declared in the page, whose policy lets no style in'
        : `its face is declared by ${refusal.where}, whose sheet cannot be changed: copy it to your own host first`;
    case 'draws-icons':
      return 'it draws icons: another font has no such signs, and would show boxes in their place';
    case 'sometimes-shown':
      return 'a style names it on some screens only: on others it would be asked for in vain';
    case 'height-set':
      return 'unread' in refusal.by
        ? `${refusal.by.unread} cannot be read: it may set its height`
        : `a style may set its height (${refusal.by.selector}), and a size in the markup would put it out of shape`;
    case 'place-told':
      return 'unread' in refusal.by
        ? `${refusal.by.unread} cannot be read: it may go by what stands right around it`
        : `a style goes by where it stands (${refusal.by.selector}), and it would stand in another element`;
    case 'no-lighter-files':
      return 'no lighter files were made of it, or none that were lighter: make them in Treat';
    case 'chooses-file':
      return 'its markup lets browsers choose between files already, and by more than their width or density, or between files of one width';
    case 'named-otherwise':
      return `it is named where no other file can stand beside it (${refusal.where})`;
    case 'script-asks-behind':
      return `a script may ask what stands behind elements, and would find several files (${refusal.script})`;
    case 'asked-ahead':
      return `the page asks for this very file ahead (line ${refusal.line}): both would come`;
  }
}

function oneTextWords({ first, second, why }: Extract<Refusal, { code: 'one-text' }>): string {
  switch (why.by) {
    case 'strict':
      return `only one of ${first} and ${second} begins with “use strict”, which would hold for both in one file`;
    case 'name':
      return `${second} declares “${why.name}”, which in one file would be there before ${first} runs`;
    case 'soon':
      return `${first} goes on once it is through (“${why.name}”), and in one file ${second} would run before that`;
  }
}

function worksWords({ works, place }: Extract<Refusal, { code: 'works-with-embed' }>): string {
  switch (works.how) {
    case 'goes by it':
      return `a script goes by it (“${works.name}”), and may speak to it: ${placeWords(place)}`;
    case 'looks for any':
      return `a script looks for embeds, and may speak to this one: ${placeWords(place)}`;
    case 'hears them':
      return `a script hears what embeds say, and may wait for this one: ${placeWords(place)}`;
    case 'unreadable':
      return `a script may speak to it that could not be read: ${place.file ?? lineWords(place)} (${works.why})`;
  }
}

function sharedWords(
  refusal: Extract<Refusal, { code: 'both-change' | 'same-elements' | 'anything' }>,
): string {
  switch (refusal.code) {
    case 'both-change':
      return `${lineWords(refusal.first)} and ${lineWords(refusal.second)} both change “${refusal.name}”, and would do so in another order`;
    case 'same-elements':
      return `${lineWords(refusal.first)} and ${lineWords(refusal.second)} work with the same elements${refusal.token === '*' ? '' : ` (${refusal.token})`}, and would do so in another order`;
    case 'anything':
      return `what ${lineWords(refusal.unknown)} does cannot be known by reading it, and it would change places with ${refusal.other.file ?? lineWords(refusal.other)}`;
  }
}

function orderWords({ name, reader, how }: Extract<Refusal, { code: 'order' }>): string {
  const where = lineWords(reader);
  switch (how) {
    case 'read while parsed':
      return `${where} reads “${name}” while the page is parsed`;
    case 'reader deferred before':
      return `${where} reads “${name}”, and that script, deferred already, stands before it and would run first`;
    case 'may come late':
      return `${where} reads “${name}” before it might have arrived`;
    case 'needed before':
      return `${where} reads “${name}”, and does not wait that long`;
    case 'found already':
      return `${where} reads “${name}”, which would be there already`;
    case 'waits otherwise':
      return `${where} reads “${name}”, and waits for something else, which may come first`;
    case 'gone':
      return `${where} reads “${name}”`;
  }
}

/** "line 3 of lib.js", "line 12 of the page". */
export function lineWords({ file, line }: Place): string {
  return file === null ? `line ${line} of the page` : `line ${line} of ${file}`;
}

/** "line 41 of the page: `document.write(…)`". */
function placeWords(place: Place): string {
  // Of a minified file a line says nothing.
  if (place.excerpt === '') return lineWords(place);
  return `${place.file === null ? lineWords(place) : `line ${place.line}`}: ${place.excerpt}`;
}

/** Why something was not done, as a sentence, with what can be done about it. */
export function refusalSentence(refusal: Refusal): string {
  const clause = refusalWords(refusal);
  const sentence = `${clause.charAt(0).toUpperCase()}${clause.slice(1)}.`;
  return refusal.code === 'policy' ? `${sentence} Let it through there and measure again.` : sentence;
}
