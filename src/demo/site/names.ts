/** Every name of the demo that a tool could be tuned to: hosts, files, classes, globals. */
export interface Names {
  hosts: Record<HostRole, string>;
  files: Record<FileRole, string>;
  /** Prefix of the site's own classes. */
  classPrefix: string;
  /** Prefix of the general framework's classes and custom properties. */
  framePrefix: string;
  /** Attribute of the root that hides the page while the headline tester decides. */
  hidingAttribute: string;
  /** Names of the two font families. */
  families: { titles: string; text: string };
  /** Globals of the site's own, the library's and the third parties' scripts. */
  globals: { site: string; library: string; counter: string; tester: string };
}

export type HostRole = 'www' | 'fonts' | 'counter' | 'tester' | 'chat' | 'map' | 'video' | 'consent';
export type FileRole =
  | 'framework'
  | 'library'
  | 'site'
  | 'palette'
  | 'type'
  | 'signs'
  | 'signsFace'
  | 'carousel'
  | 'board'
  | 'cart'
  | 'faces'
  | 'counter'
  | 'tester'
  | 'chat'
  | 'consent'
  | 'chart';

export const HOST_ROLES: readonly HostRole[] = [
  'www',
  'fonts',
  'counter',
  'tester',
  'chat',
  'map',
  'video',
  'consent',
];

/** Skerravane Ferries as it is shown. */
export const SKERRAVANE: Names = {
  hosts: {
    www: 'www.skerravane.localhost',
    fonts: 'letterquay.localhost',
    counter: 'wakecount.localhost',
    tester: 'twinhead.localhost',
    chat: 'hailbuoy.localhost',
    map: 'chartcleat.localhost',
    video: 'reelcove.localhost',
    consent: 'assentcleat.localhost',
  },
  files: {
    framework: 'framework',
    library: 'lib',
    site: 'site',
    palette: 'palette',
    type: 'type',
    signs: 'signs',
    signsFace: 'signs-face',
    carousel: 'carousel',
    board: 'board',
    cart: 'cart',
    faces: 'faces',
    counter: 'count',
    tester: 'heads',
    chat: 'chat',
    consent: 'bar',
    chart: 'chart',
  },
  classPrefix: 'sk',
  framePrefix: 'hull',
  hidingAttribute: 'data-undecided',
  families: { titles: 'Quay Serif', text: 'Pier Sans' },
  globals: { site: 'skerravane', library: 'deck', counter: 'wake', tester: 'twinhead' },
};

/** Names made of syllables from a seed: the same demo, unknown to anything tuned to its names. */
export function randomNames(seed: number): Names {
  let state = seed >>> 0 || 1;
  const next = (below: number) => {
    state ^= state << 13;
    state >>>= 0;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state % below;
  };
  const used = new Set<string>();
  const word = (): string => {
    const syllables = [
      'ba',
      'ke',
      'li',
      'mo',
      'nu',
      'ra',
      'se',
      'ti',
      'vo',
      'zu',
      'dri',
      'fle',
      'gor',
      'hal',
      'jun',
    ];
    let made = '';
    for (let i = 0; i < 3; i++) made += syllables[next(syllables.length)]!;
    if (used.has(made)) return word();
    used.add(made);
    return made;
  };
  const map = <K extends string>(keys: readonly K[], make: () => string) =>
    Object.fromEntries(keys.map((key) => [key, make()])) as Record<K, string>;
  return {
    hosts: { ...map(HOST_ROLES, () => `${word()}.localhost`), www: `www.${word()}.localhost` },
    files: map(Object.keys(SKERRAVANE.files) as FileRole[], word),
    classPrefix: word(),
    framePrefix: word(),
    hidingAttribute: `data-${word()}`,
    families: { titles: word(), text: word() },
    globals: { site: word(), library: word(), counter: word(), tester: word() },
  };
}
