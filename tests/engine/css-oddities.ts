import type { FoldViewport } from '../../src/core/fold/viewports.ts';

/** A small page of one CSS oddity. */
export interface Oddity {
  name: string;
  /** Sheets by file name; those named in `head` (or all, in their order) are linked. */
  css: Record<string, string | Buffer>;
  body: string;
  /** The head's own content; by default one link for each sheet. */
  head?: string;
  /** What must and must not be in the fold CSS. */
  keeps?: string[];
  drops?: string[];
  viewports?: FoldViewport[];
  /** The page itself is of the old world, and its sheets with it. */
  latin?: boolean;
  /** Not every oddity can be told apart from rules: then a sheet is kept whole, or stays as authored. */
  whole?: boolean;
}

const PHONE: FoldViewport = { width: 360, height: 480 };
const WIDE: FoldViewport = { width: 900, height: 500 };
export const ODD_VIEWPORTS = [PHONE];
const BOTH = [PHONE, WIDE];

/** Shows a word in a box of its own, so that a lost rule is a lost picture. */
const box = (attributes = 'class="a"', text = 'Tide') => `<div ${attributes}>${text}</div>`;
const LATIN1 = Buffer.from('.a::before{content:"\u00e9\u00fc";font-size:30px}', 'latin1');
const BOM = Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from('.a::before{content:"é"}')]);

const one = (name: string, css: string, body: string, over: Partial<Oddity> = {}): Oddity => ({
  name,
  css: { 'a.css': css },
  body,
  ...over,
});

export const ODDITIES: Oddity[] = [
  {
    name: 'a rule for narrow screens alone, on a page that fits the phone',
    css: {
      'a.css': '.a{background:red;padding:9px}@media (max-width:575.98px){.a{background:teal;padding:30px}}',
    },
    head: '<meta name="viewport" content="width=device-width, initial-scale=1"><link rel="stylesheet" href="a.css">',
    body: box(),
    keeps: ['teal'],
  },
  {
    name: 'the order of two sheets',
    css: { 'a.css': '.a{color:red;padding:9px}', 'b.css': '.a{color:green}' },
    body: box(),
  },
  {
    name: 'an inline style between two sheets',
    css: { 'a.css': '.a{background:red}', 'b.css': '.a{border:4px solid}' },
    head: '<link rel="stylesheet" href="a.css"><style>.a{background:teal;border:1px dotted}</style><link rel="stylesheet" href="b.css">',
    body: box(),
  },
  one('importance', '.a{color:green!important}#i{color:red}', box('class="a" id="i"')),
  {
    name: 'an import',
    css: { 'a.css': '@import "b.css";.a{color:green}', 'b.css': '.a{color:red;font-size:40px}' },
    head: '<link rel="stylesheet" href="a.css">',
    body: box(),
  },
  {
    name: 'an import under media',
    css: { 'a.css': '@import "b.css" screen and (max-width:600px);', 'b.css': '.a{font-size:40px}' },
    head: '<link rel="stylesheet" href="a.css">',
    body: box(),
    viewports: BOTH,
  },
  {
    name: 'an import into a layer',
    css: { 'a.css': '@import "b.css" layer(base);.a{color:green}', 'b.css': '#i{color:red;padding:8px}' },
    head: '<link rel="stylesheet" href="a.css">',
    body: box('class="a" id="i"'),
  },
  {
    name: 'an import under supports',
    css: {
      'a.css': '@import "b.css" supports(display:grid);@import "c.css" supports(nothing:at-all);',
      'b.css': '.a{display:grid;padding:20px}',
      'c.css': '.a{color:red}',
    },
    head: '<link rel="stylesheet" href="a.css">',
    body: box(),
  },
  {
    name: 'a chain of imports with addresses',
    css: {
      'a.css': '@import url(deep/b.css);',
      'deep/b.css': '@import "er/c.css";',
      'deep/er/c.css': '.a{background:url(../../dot.svg);height:60px}',
    },
    head: '<link rel="stylesheet" href="a.css">',
    body: box(),
  },
  {
    name: 'an import that goes round in a circle',
    css: { 'a.css': '@import "b.css";.a{color:green}', 'b.css': '@import "a.css";.a{color:red}' },
    head: '<link rel="stylesheet" href="a.css">',
    body: box(),
  },
  one(
    'the order of layers',
    '@layer x,y;@layer y{.a{color:green}}@layer x{#i.a{color:red}}',
    box('class="a" id="i"'),
  ),
  one(
    'a layer that is emptied',
    '@layer x{.gone{a:b}}@layer y{.a{color:red}}@layer x{.a{color:green}}',
    box(),
  ),
  one('a layer without a name', '@layer{.a{color:red;padding:5px}}.a{color:green}', box()),
  one('layers in layers', '@layer x{@layer y{.a{color:red}}.a{color:green}}', box()),
  one('importance in layers', '@layer x{.a{color:green!important}}@layer y{.a{color:red!important}}', box()),
  one(
    'supports, both ways',
    '@supports (display:flex){.a{display:flex;gap:9px}}@supports not (display:flex){.a{color:red}}',
    box('class="a"', '<b>1</b><b>2</b>'),
  ),
  one('print', '@media print{.a{color:red}}.a{padding:4px}', box(), { drops: ['print'] }),
  one('a wide viewport', '@media (min-width:700px){.a{font-size:40px}}', box(), {
    viewports: BOTH,
    keeps: ['40px'],
  }),
  one(
    'a range that only widths between meet',
    '@media (min-width:500px) and (max-width:700px){.a{background:teal}}',
    box(),
    { viewports: BOTH, keeps: ['teal'] },
  ),
  one(
    'ranges in the new writing',
    '@media (500px<width<=700px){.a{background:teal}}@media (width>2000px){.a{color:red}}',
    box(),
    { viewports: BOTH, keeps: ['teal'] },
  ),
  one(
    'media with not and only',
    '@media not all and (min-width:700px){.a{color:green}}@media only screen{.a{padding:3px}}',
    box(),
    { viewports: BOTH },
  ),
  one('media that cannot be read', '@media (((){.a{color:red}}.b{color:green}', box('class="b"')),
  one(
    'a container',
    '.c{container-type:inline-size}@container (width>100px){.a{color:green}}@container (width>9999px){.a{color:red}}',
    `<div class="c">${box()}</div>`,
  ),
  one(
    'a container’s style',
    '.c{--on:yes}@container style(--on:yes){.a{color:green}}',
    `<div class="c">${box()}</div>`,
  ),
  one(
    'nesting with the sign',
    '.a{padding:4px;&.b{color:green}& i{color:teal}}',
    box('class="a b"', '<i>Tide</i>'),
  ),
  one(
    'nesting without the sign',
    '.a{i{color:teal}> b{color:green}+ .z{color:red}}',
    box('class="a"', '<i>1</i><b>2</b>'),
  ),
  one(
    'media in a rule',
    '.a{color:red;@media (min-width:1px){color:green;i{color:teal}}}',
    box('class="a"', 'x<i>y</i>'),
  ),
  one('the parent after the sign', '.a{.t &{color:green}}', `<div class="t">${box()}</div>`),
  one('declarations after nested rules', '.a{i{color:teal}color:green}', box('class="a"', 'x<i>y</i>')),
  one('a scope', '@scope (.a){:scope{padding:6px}i{color:green}}', box('class="a"', '<i>Tide</i>')),
  one(
    'a scope with an end',
    '@scope (.a) to (.b){i{color:green}}',
    box('class="a"', '<i>1</i><p class="b"><i>2</i></p>'),
  ),
  one(
    'a registered property',
    '@property --w{syntax:"<length>";inherits:false;initial-value:50px}@property --gone{syntax:"*";inherits:false}.a{width:var(--w);background:teal}',
    box(),
    { keeps: ['--w'], drops: ['--gone'] },
  ),
  one(
    'keyframes',
    '@keyframes up{to{opacity:1}}@keyframes gone{to{opacity:0}}.a{animation:up 1s both}',
    box(),
    { keeps: ['up'], drops: ['gone'] },
  ),
  one(
    'a chain of custom properties',
    ':root{--x:var(--y);--y:var(--z);--z:green;--gone:red}.a{color:var(--x)}',
    box(),
    { drops: ['--gone'] },
  ),
  one('a custom property of an inline style', ':root{--x:green}', box('style="color:var(--x)"')),
  one('a fallback of a custom property', '.a{color:var(--none,green);padding:var(--none2,7px)}', box()),
  one(
    'a font',
    '@font-face{font-family:K;src:url(karla.woff2)}@font-face{font-family:K;font-weight:700;src:url(other.woff2)}.a{font:30px K}',
    box(),
    { keeps: ['karla.woff2'], drops: ['other.woff2'] },
  ),
  one(
    'a font for other letters',
    '@font-face{font-family:K;src:url(karla.woff2);unicode-range:U+0-7F}@font-face{font-family:K;src:url(other.woff2);unicode-range:U+400-4FF}.a{font:30px K}',
    box(),
    { drops: ['other.woff2'] },
  ),
  one(
    'a font for generated letters',
    '@font-face{font-family:K;src:url(karla.woff2)}.a::after{font:30px K;content:"ebb"}',
    box(),
  ),
  one(
    'generated content',
    '.a::before{content:"» ";color:green}.a::after{content:attr(data-x);padding:5px}',
    box('class="a" data-x="flow"'),
  ),
  one(
    'counters',
    'ol{counter-reset:n;list-style:none}li::before{counter-increment:n;content:counter(n) ". "}',
    '<ol><li>a</li><li>b</li></ol>',
  ),
  one(
    'a counter style',
    '@counter-style tide{system:cyclic;symbols:"~";suffix:" "}@counter-style gone{system:cyclic;symbols:"x"}ul{list-style:tide}',
    '<ul><li>a</li></ul>',
    { drops: ['gone'] },
  ),
  one('markers', 'li::marker{color:green;content:"- "}', '<ul><li>a</li></ul>'),
  one(
    'first letter and first line',
    '.a::first-letter{font-size:40px}.a:first-line{color:green}',
    box('class="a"', 'High water at noon'),
  ),
  one(
    'a shadow root that reads the page’s properties',
    ':root{--x:green}.a{display:block;padding:9px}',
    '<x-a class="a"><template shadowrootmode="open"><style>:host{color:var(--x)}b{color:var(--x)}</style><b>Tide</b><slot></slot></template>light</x-a>',
    { keeps: ['--x'] },
  ),
  one(
    'parts of a shadow root',
    '.a::part(p){color:green;font-size:30px}',
    '<x-a class="a"><template shadowrootmode="open"><b part="p">Tide</b></template></x-a>',
  ),
  one(
    'slotted elements',
    '.s{font-size:30px}',
    '<x-a><template shadowrootmode="open"><style>::slotted(.s){color:green}</style><slot></slot></template><b class="s">Tide</b></x-a>',
  ),
  one(
    'a constructed sheet',
    '.a{padding:9px}:root{--x:green}',
    `${box()}<script>const s=new CSSStyleSheet();s.replaceSync('.a{color:var(--x)}');document.adoptedStyleSheets=[s]</script>`,
    { keeps: ['--x'] },
  ),
  one(
    'a sheet adopted by a shadow root',
    ':root{--x:green}',
    `<div id="h"></div><script>const r=h.attachShadow({mode:'open'});r.innerHTML='<b>Tide</b>';const s=new CSSStyleSheet();s.replaceSync('b{color:var(--x)}');r.adoptedStyleSheets=[s]</script>`,
    { keeps: ['--x'] },
  ),
  one('what is hidden', '.h{display:none;color:red}.a{color:green}', `<div class="h">gone</div>${box()}`, {
    drops: ['red'],
  }),
  one(
    'what is off the screen',
    '.o{position:absolute;left:-9999px;font-size:50px}.a{color:green}',
    `<div class="o">skip</div>${box()}`,
  ),
  one(
    'what is fixed at the bottom',
    '.f{position:fixed;bottom:0;left:0;right:0;background:teal;padding:9px}',
    `${box()}<p style="height:2000px"></p><div class="f">Bar</div>`,
  ),
  one(
    'what sticks',
    '.s{position:sticky;top:0;background:teal}',
    `<div class="s">Bar</div><p style="height:2000px"></p>`,
  ),
  one(
    'slides beside the fold',
    '.r{display:flex;overflow:hidden}.i{flex:0 0 100%;padding:20px;box-sizing:border-box}.i b{display:block;height:90px}',
    '<div class="r"><div class="i">one</div><div class="i"><b>two</b></div></div><p>after</p>',
  ),
  one(
    'a menu moved off by a transform',
    '.m{position:fixed;top:0;width:200px;height:100%;background:red;transform:translateX(-100%)}.m a{display:block;padding:30px}',
    `${box()}<nav class="m"><a>1</a></nav>`,
  ),
  one(
    'content that waits to be seen',
    '.v{content-visibility:auto;contain-intrinsic-size:100px 300px}.v p{font-size:30px}',
    `<div class="v"><p>seen</p></div><div style="height:900px"></div><div class="v"><p>below</p></div>`,
  ),
  one(
    'content that is never seen',
    '.v{content-visibility:hidden;height:40px}.a{color:green}',
    `<div class="v"><p>no</p></div>${box()}`,
  ),
  {
    name: 'a charset of the old world',
    css: { 'a.css': LATIN1 },
    body: box(),
    head: '<link rel="stylesheet" href="a.css" charset="iso-8859-1">',
    keeps: ['é'],
  },
  {
    name: 'a page of the old world, whose sheet says nothing of itself',
    css: { 'a.css': LATIN1 },
    body: box(),
    latin: true,
  },
  { name: 'a byte-order mark', css: { 'a.css': BOM }, body: box(), keeps: ['é'] },
  {
    name: 'addresses in a folder',
    css: { 'css/a.css': '.a{background:url("../dot.svg") 0 0/20px 20px;height:40px}' },
    body: box(),
    keeps: ['/dot.svg'],
  },
  one(
    'an embedded picture',
    `.a{height:40px;background:url("data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' width='9' height='9'%3E%3Crect width='9' height='9' fill='teal'/%3E%3C/svg%3E")}`,
    box(),
  ),
  one('a stray closing bracket', '.z{c:d}}.b{color:red}.a{color:green}', box('class="a b"')),
  one('a block that is never closed', '.a{color:green', box()),
  one('declarations that are none', '.a{color green;*zoom:1;padding:9px;:;b;}', box()),
  one('a list with a selector nobody knows', '.a,:no-such-thing{color:red}.a{padding:9px}', box(), {
    drops: ['red'],
  }),
  one('a forgiving list', ':is(.a,:no-such-thing){color:green}', box()),
  one('an at-rule nobody knows', '@tide high{.a{color:red}}.a{color:green}', box(), { drops: ['tide'] }),
  one('a string that breaks', '.z{content:"x\n}.a{color:red}\n.b{color:green}', box('class="b"')),
  one(
    'a class that a script sets',
    '.js .a{color:green}.late{padding:20px}',
    `${box('class="a" id="i"')}<script>document.documentElement.className='js';i.classList.add('late')</script>`,
    { keeps: ['.js .a', '.late'] },
  ),
  one(
    'a class that a script sets by what the browser calls itself',
    '.mobile .a{color:green}.other .a{color:teal}',
    `${box()}<script>document.documentElement.className=/Mobile/.test(navigator.userAgent)?'mobile':'other'</script>`,
    { viewports: BOTH, keeps: ['.mobile .a', '.other .a'] },
  ),
  one(
    'a picture far below the fold, wider than a phone where nothing holds it in',
    '.a{font-size:30px}.w{max-width:100%;overflow:hidden}',
    `<meta name="viewport" content="width=device-width">${box()}<p style="height:1800px"></p><div class="w"><div style="width:700px">Wide</div></div>`,
    { keeps: ['.w'] },
  ),
  one(
    'a class that a script takes away',
    '.no-js .a{color:red}.a{color:green}',
    `${box()}<script>document.documentElement.classList.remove('no-js')</script>`,
    { keeps: ['.no-js'] },
  ),
  one(
    'what has something in it',
    '.c:has(.a){padding:20px;background:teal}.c:has(.z){color:red}',
    `<div class="c">${box()}</div>`,
    { drops: [':has(.z)'] },
  ),
  one(
    'children by number',
    'li:nth-child(odd){color:green}li:nth-child(2 of .x){color:teal}li:nth-last-child(1){padding:9px}',
    '<ul><li>1</li><li class="x">2</li><li class="x">3</li></ul>',
  ),
  one(
    'attributes',
    '[data-x="a b" i]{color:green}[href^="/"]{padding:4px}a[href$=".pdf"]{color:red}',
    '<b data-x="A B">x</b><a href="/t">y</a>',
  ),
  one(
    'escaped names',
    '.sm\\:grid{color:green}.\\31 st{padding:9px}#\\~{font-size:30px}',
    '<b class="sm:grid 1st" id="~">x</b>',
  ),
  one(
    'a namespace',
    '@namespace s url(http://www.w3.org/2000/svg);s|rect{fill:teal}',
    '<svg width="90" height="90"><rect width="90" height="90"/></svg>',
  ),
  one(
    'children below the fold in a grid',
    '.g{display:grid;grid-template-columns:1fr auto}.w{width:150px}',
    `<div class="g"><div>a</div><div>b</div>${'<div style="height:400px">x</div><div class="w">y</div>'.repeat(3)}</div>`,
  ),
  one(
    'cells below the fold in a table',
    'td{padding:9px;border:1px solid}.w{padding-right:120px}',
    `<table>${'<tr><td style="height:150px">1</td><td>2</td></tr>'.repeat(5)}<tr><td class="w">3</td><td>4</td></tr></table>`,
  ),
  one(
    'margins that collapse',
    '.x{margin:0 0 30px}.y{margin:50px 0 0;color:green}',
    '<div class="x">1</div><div class="y">2</div>',
  ),
  one(
    'floats',
    '.f{float:right;width:90px;background:teal}.c{clear:both;color:green}',
    '<div class="f">1<br>2</div><p>text</p><p class="c">after</p>',
  ),
  one(
    'the order of flex items',
    '.r{display:flex}.l{order:2;color:green}',
    '<div class="r"><b class="l">1</b><b>2</b></div>',
  ),
  one(
    'directions of writing',
    '.v{writing-mode:vertical-rl;height:90px}.d{direction:rtl;padding-inline-start:30px;background:teal}',
    '<div class="v">tide</div><div class="d">ebb</div>',
  ),
  one(
    'colours of today',
    '.a{color:color-mix(in srgb,green 60%,black);background:light-dark(white,black);padding:clamp(4px,2vw,20px)}',
    box(),
  ),
  one(
    'a starting style',
    '.a{opacity:1;transition:opacity 1s;@starting-style{opacity:0}}@starting-style{.z{opacity:0}}',
    box(),
  ),
  one(
    'what a pointer does',
    '.a:hover{color:red}.a:not(:hover){color:green}a:focus-visible{color:red}',
    box(),
    { keeps: [':not(:hover)'], drops: ['red'] },
  ),
  one('everything', '*{box-sizing:border-box;margin:3px}*::before{color:green}', box()),
  {
    name: 'a link under media',
    css: { 'a.css': '.a{color:green}', 'b.css': '.a{color:red}' },
    head: '<link rel="stylesheet" href="a.css" media="(min-width:100px)"><link rel="stylesheet" href="b.css" media="(min-width:5000px)">',
    body: box(),
  },
  {
    name: 'links that do not count',
    css: { 'a.css': '.a{color:green}', 'b.css': '.a{color:red}' },
    head: '<link rel="stylesheet" href="a.css"><link rel="alternate stylesheet" href="b.css" title="x">',
    body: box(),
  },
  {
    name: 'a sheet that is not there',
    css: { 'a.css': '.a{color:green}' },
    head: '<link rel="stylesheet" href="gone.css"><link rel="stylesheet" href="a.css">',
    body: box(),
  },
  one(
    'what would widen the page',
    '.w{overflow-x:auto;width:100%}.w b{display:block;width:2000px}.a{color:green}',
    `${box()}<p style="height:900px"></p><div class="w"><b>wide</b></div>`,
  ),
  one(
    'what would move up into the fold',
    '.s{height:700px;background:teal}.b{color:green}',
    '<div class="s">high</div><div class="b">low</div>',
  ),
  {
    name: 'a row that centres what it holds, as high as what reaches far below the fold',
    css: { 'a.css': '.r{display:flex;align-items:center}.deep{font-size:40px;line-height:4}.i{color:teal}' },
    body: '<div class="r"><div class="i">Tide</div><div><div><div style="height:660px">High</div><div><div class="deep">Low</div></div></div></div></div>',
    viewports: [WIDE],
    keeps: ['.deep'],
  },
  one(
    'fields',
    'input{border:2px solid green;padding:9px}input::placeholder{color:teal}',
    '<input placeholder="Where to?">',
  ),
  one(
    'values that fall back',
    '.a{display:-old-box;display:flex;gap:9px;color:green;color:no-such(1)}',
    box('class="a"', '<b>1</b><b>2</b>'),
  ),
  {
    name: 'a policy that refuses styles in the page',
    css: { 'a.css': '.a{color:green}' },
    head: '<meta http-equiv="Content-Security-Policy" content="style-src \'self\'"><link rel="stylesheet" href="a.css">',
    body: box(),
  },
];
