import type { HostRole, Names } from './names.ts';

/** Where a host of the demo is to be found. */
export type Origin = (role: HostRole) => string;

/** The pages of the demo site, as the application lists them. */
export const DEMO_PAGES = [
  { path: '/', name: 'Home', family: '' },
  { path: '/timetable', name: 'Timetable', family: '' },
  { path: '/booking', name: 'Booking', family: '' },
  { path: '/routes/orrask', name: 'Route to Orrask', family: 'routes' },
  { path: '/routes/morvane', name: 'Route to Morvane', family: 'routes' },
  { path: '/news/winter-sailings', name: 'Winter sailings', family: 'news' },
  { path: '/news/new-ferry', name: 'A new ferry', family: 'news' },
  { path: '/news/pier-works', name: 'Pier works', family: 'news' },
  { path: '/crew', name: 'Crew', family: '' },
] as const;

/** What the home page does, as one of its developers would write it down. */
export const HOME_CHECKS = 'press Menu, see Timetable';

const ROUTES: Record<string, { harbour: string; takes: string; words: string }> = {
  orrask: {
    harbour: 'Orrask',
    takes: '55 min',
    words: 'Past the skerries and the seal rocks; the swell is short and the tea is hot.',
  },
  morvane: {
    harbour: 'Morvane',
    takes: '1 h 35',
    words: 'The long crossing, west about the skerry light; whales in June, if they please.',
  },
};

const SAILINGS: readonly [string, string, string, string][] = [
  ['06:20', 'Skerravane', 'Orrask', '55 min'],
  ['07:45', 'Orrask', 'Morvane', '1 h 10'],
  ['09:40', 'Skerravane', 'Morvane', '1 h 35'],
  ['11:15', 'Morvane', 'Skerravane', '1 h 35'],
  ['13:30', 'Skerravane', 'Orrask', '55 min'],
  ['16:05', 'Orrask', 'Skerravane', '55 min'],
];

const NEWS: readonly [string, string, string][] = [
  [
    'winter-sailings',
    'Winter sailings begin on 2 December',
    'The Orrask boat leaves twenty minutes earlier until the end of February.',
  ],
  ['new-ferry', 'A new ferry gets her name', 'Schoolchildren of Morvane chose it: the Tern.'],
  ['pier-works', 'Works on the north pier', 'Foot passengers board by the long ramp for three weeks.'],
];

/** Makes the HTML of the demo's pages. */
export class DemoPages {
  #names: Names;
  #origin: Origin;

  constructor(names: Names, origin: Origin) {
    this.#names = names;
    this.#origin = origin;
  }

  /** The page at a path, or null. @param crew whether the visitor is signed in as crew */
  page(path: string, crew = false): string | null {
    switch (path) {
      case '/':
        return this.#shell('Ferries to the islands', this.#home(), ['carousel', 'board'], true);
      case '/timetable':
        return this.#shell('Timetable', this.#timetable(), ['board'], false);
      case '/booking':
        return this.#shell('Book a crossing', this.#booking(), ['cart'], false);
      case '/crew':
        return this.#shell('Crew', crew ? this.#crew() : this.#signIn(), ['board'], false);
      default: {
        const news = NEWS.find(([slug]) => path === `/news/${slug}`);
        if (news) return this.#shell(news[1], this.#article(news), [], false);
        const route = ROUTES[path.replace(/^\/routes\//, '')];
        return route
          ? this.#shell(`The route to ${route.harbour}`, this.#route(route), ['board'], false)
          : null;
      }
    }
  }

  /** A class of the general framework's. */
  #frame(...names: string[]): string {
    return names.map((name) => `${this.#names.framePrefix}-${name}`).join(' ');
  }

  #class(name: string): string {
    return `${this.#names.classPrefix}-${name}`;
  }

  #asset(role: keyof Names['files'], extension: 'css' | 'js'): string {
    return `/assets/${this.#names.files[role]}.${extension}`;
  }

  #shell(
    title: string,
    body: string,
    scripts: readonly ('carousel' | 'board' | 'cart')[],
    tested: boolean,
  ): string {
    const { files, globals, hidingAttribute } = this.#names;
    const at = this.#origin;
    const f = (...names: string[]) => this.#frame(...names);
    const tester = tested
      ? `
  <style>[${hidingAttribute}] body { visibility: hidden }</style>
  <script>
    var ${globals.tester} = {
      page: "home",
      show: function () { document.documentElement.removeAttribute("${hidingAttribute}"); }
    };
    document.documentElement.setAttribute("${hidingAttribute}", ${globals.tester}.page);
    setTimeout(${globals.tester}.show, 2600);
  </script>
  <script async src="${at('tester')}/${files.tester}.js"></script>`
      : '';
    return `<!DOCTYPE html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <meta name="viewport" content="width=device-width, initial-scale=1">
  <link rel="icon" href="data:,">
  <title>${title} · Skerravane Ferries</title>${tester}
  <script src="${at('consent')}/${files.consent}.js"></script>
  <link rel="stylesheet" href="${this.#asset('framework', 'css')}">
  <link rel="stylesheet" href="${at('fonts')}/${files.faces}.css?cut=quay">
  <link rel="stylesheet" href="${this.#asset('site', 'css')}">
  <link rel="stylesheet" href="${this.#asset('signs', 'css')}">
  <script src="${this.#asset('library', 'js')}"></script>
</head>
<body>
<header class="${this.#class('top')}">
  <nav class="${f('navbar', 'navbar-expand-lg', 'container')}">
    <a class="${f('navbar-brand')} ${this.#class('brand')}" href="/">Skerravane <span>Ferries</span></a>
    <button class="${f('navbar-toggler')} ${this.#class('menu-button')}" type="button" aria-expanded="false" aria-controls="menu">Menu</button>
    <div class="${f('collapse', 'navbar-collapse')}" id="menu">
      <ul class="${f('navbar-nav', 'ms-auto')}">
        <li class="${f('nav-item')}"><a class="${f('nav-link')}" href="/timetable">Timetable</a></li>
        <li class="${f('nav-item')}"><a class="${f('nav-link')}" href="/routes/orrask">Routes</a></li>
        <li class="${f('nav-item')}"><a class="${f('nav-link')}" href="/news/winter-sailings">News</a></li>
        <li class="${f('nav-item')}"><a class="${f('nav-link')}" href="/booking">Book</a></li>
      </ul>
    </div>
  </nav>
</header>
${body}
<footer class="${this.#class('foot')}"><div class="${f('container')}">
  <p>Skerravane Ferries carries people, bicycles and post between three islands, every day but one.</p>
</div></footer>
<script>
  ${globals.library}(function () {
    ${globals.library}('.${this.#class('menu-button')}').on('click', function () {
      var menu = ${globals.library}('#menu').toggleClass('${f('show')}');
      ${globals.library}(this).attr('aria-expanded', menu.hasClass('${f('show')}'));
    });
  });
</script>
${scripts.map((name) => `<script src="${this.#asset(name, 'js')}"></script>`).join('\n')}
<script>
  var ${globals.counter} = { notes: [{ at: location.pathname, width: innerWidth }] };
  document.body.appendChild(document.createElement("script")).src = "${at('counter')}/${files.counter}.js";
</script>
<script async src="${at('chat')}/${files.chat}.js"></script>
</body>
</html>
`;
  }

  #home(): string {
    const c = (name: string) => this.#class(name);
    const f = (...names: string[]) => this.#frame(...names);
    const { library } = this.#names.globals;
    return `<main>
<section class="${c('hero')}">
  <div class="${f('container')}">
    <h1>To the islands, in every weather</h1>
    <p class="${f('lead')}">Three harbours, six crossings a day. Bring the bicycle; the dog travels free.</p>
    <a class="${f('btn', 'btn-primary', 'btn-lg')}" href="/booking">Book a crossing</a>
  </div>
  <img src="/assets/hero.jpg" alt="The ferry leaving Skerravane harbour">
</section>
<section class="${f('container')} ${c('next')}">
  <h2>Next sailings</h2>
  <script>
    document.documentElement.setAttribute('data-day', new Date(2026, 10, 24).getDay());
    ${library}('.${c('next')} h2').attr('id', 'next-sailings');
  </script>
  <table class="${f('table')} ${c('sailings')}">
    <thead><tr><th>Leaves</th><th>From</th><th>To</th><th>Takes</th></tr></thead>
    <tbody>
${SAILINGS.slice(0, 4)
  .map(
    ([time, from, to, takes], row) =>
      `      <tr><td>${time}${row === 2 ? ` <i class="${c('sign')} ${c('sign-step-free')}" title="Step-free boarding"></i>` : ''}</td><td>${from}</td><td>${to}</td><td>${takes}</td></tr>`,
  )
  .join('\n')}
    </tbody>
  </table>
  <p class="${c('sea-state')}" data-sea-state>Sea state: asking the harbour…</p>
</section>
<section class="${f('container')} ${c('film')}">
  <h2>The crossing in two minutes</h2>
  <iframe src="${this.#origin('video')}/film/crossing" title="Film of the crossing" width="560" height="315"></iframe>
</section>
<section class="${f('container')} ${c('news')}">
  <h2>News</h2>
  <div class="${f('row')} ${c('slides')}">
${NEWS.map(
  ([slug, title, text], index) => `    <article class="${f('col-md-4')}"><div class="${f('card')}">
      <img class="${f('card-img-top')}" src="/assets/news-${index + 1}.jpg" alt="">
      <div class="${f('card-body')}"><h3 class="${f('card-title')}">${title}</h3><p>${text}</p><a href="/news/${slug}">Read on</a></div>
    </div></article>`,
).join('\n')}
  </div>
</section>
</main>`;
  }

  #timetable(): string {
    const rows: string[] = [];
    for (let day = 0; day < 14; day++) {
      for (const [time, from, to, takes] of SAILINGS) {
        rows.push(
          `<tr><td>${day + 1} Dec</td><td>${time}</td><td>${from}</td><td>${to}</td><td>${takes}</td></tr>`,
        );
      }
    }
    return `<main class="${this.#frame('container')} ${this.#class('page')}">
<h1>Winter timetable</h1>
<p class="${this.#frame('lead')}">From 1 to 14 December. <i class="${this.#class('sign')} ${this.#class('sign-step-free')}" title="Step-free boarding"></i> step-free boarding on every boat but the 07:45.</p>
<p class="${this.#class('sea-state')}" data-sea-state>Sea state: asking the harbour…</p>
<table class="${this.#frame('table', 'table-striped')} ${this.#class('sailings')}">
<thead><tr><th>Day</th><th>Leaves</th><th>From</th><th>To</th><th>Takes</th></tr></thead>
<tbody>
${rows.join('\n')}
</tbody></table>
</main>`;
  }

  #booking(): string {
    const c = (name: string) => this.#class(name);
    const f = (...names: string[]) => this.#frame(...names);
    return `<main class="${f('container')} ${c('page')}">
<h1>Book a crossing</h1>
<form class="${f('row', 'g-3')} ${c('booking')}" action="/booking" method="get">
  <div class="${f('col-md-4')}"><label class="${f('form-label')}" for="from">From</label><select class="${f('form-select')}" id="from"><option>Skerravane</option><option>Orrask</option><option>Morvane</option></select></div>
  <div class="${f('col-md-4')}"><label class="${f('form-label')}" for="to">To</label><select class="${f('form-select')}" id="to"><option>Orrask</option><option>Morvane</option><option>Skerravane</option></select></div>
  <div class="${f('col-md-4')}"><label class="${f('form-label')}" for="people">People</label><input class="${f('form-control')}" id="people" type="number" min="1" max="9" value="2"></div>
  <div class="${f('col-12')}"><button class="${f('btn', 'btn-primary')}" type="button" data-add>Add to cart</button></div>
</form>
<section class="${c('cart')}"><h2>Cart</h2><ul class="${f('list-group')}" data-cart></ul><p data-total>Nothing in it yet.</p></section>
<script>window.${this.#names.globals.site} = { pricePerHead: 14.5, currency: 'crowns' };</script>
</main>`;
  }

  /** The harbour office asks for the chart at the top, high as it is. */
  #route({ harbour, takes, words }: (typeof ROUTES)[string]): string {
    return `<main class="${this.#frame('container')} ${this.#class('page')} ${this.#class('route')}">
<h1>The route to ${harbour}</h1>
<iframe src="${this.#origin('map')}/chart?to=${harbour.toLowerCase()}" title="Chart of the route to ${harbour}" width="720" height="320"></iframe>
<p class="${this.#frame('lead')}">${takes}. ${words}</p>
<p class="${this.#class('sea-state')}" data-sea-state>Sea state: asking the harbour…</p>
<table class="${this.#frame('table')} ${this.#class('sailings')}"><tbody>
${SAILINGS.filter(([, from, to]) => [from, to].includes(harbour))
  .map(([time, from, to]) => `<tr><td>${time}</td><td>${from}</td><td>${to}</td></tr>`)
  .join('\n')}
</tbody></table>
</main>`;
  }

  #signIn(): string {
    return `<main class="${this.#frame('container')} ${this.#class('page')}">
<h1>For the crew</h1>
<form method="get" action="/crew"><p><button class="${this.#frame('btn', 'btn-primary')} ${this.#class('sign-in')}" type="button" onclick="document.cookie='crew=aboard;path=/';location.reload()">Sign in</button></p></form>
</main>`;
  }

  #crew(): string {
    return `<main class="${this.#frame('container')} ${this.#class('page')}">
<h1>The watch bill</h1>
<p class="${this.#frame('lead')}">Tonight: mate on the 16:05, engineer ashore until six.</p>
<p class="${this.#class('sea-state')}" data-sea-state>Sea state: asking the harbour…</p>
<ul>${SAILINGS.map(([time, from, to]) => `<li>${time} ${from} to ${to}: two on deck</li>`).join('')}</ul>
</main>`;
  }

  #article([, title, text]: readonly [string, string, string]): string {
    const paragraph =
      'The crossing takes its time from the tide and not from the clock, which visitors learn on their first morning and islanders never had to. ';
    return `<main class="${this.#frame('container')} ${this.#class('page')} ${this.#class('article')}">
<h1>${title}</h1>
<p class="${this.#frame('lead')}">${text}</p>
<img src="/assets/news-1.jpg" alt="The boat at the north pier">
${Array.from({ length: 9 }, (_, i) => `<p>${paragraph.repeat(3 + (i % 3))}</p>`).join('\n')}
</main>`;
  }
}
