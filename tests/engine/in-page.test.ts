import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchChromium, type LaunchedBrowser } from '../../src/engine/chromium/launch.ts';
import { goTo, LOAD_LIMITS, openVisit, type Visit } from '../../src/engine/chromium/visit.ts';
import { serve, type TestServer } from './odd-servers.ts';

/** What a page may do to whoever asks it something in its own world. */
const HOSTILE = `
Element.prototype.getBoundingClientRect = () => { throw new Error('mine'); };
Document.prototype.querySelectorAll = () => [];
Array.prototype.map = function () { return ['mine']; };
CSS.escape = () => 'mine';
Object.defineProperty(window, 'innerWidth', { value: 1 });
window.requestAnimationFrame = () => 0;
window.before = 0;
window.before = Object.getOwnPropertyNames(window).length;
`;
const CLOCK = `
const mine = () => 7;
performance.now = mine; Math.floor = mine; Math.imul = mine; Reflect.construct = mine;
document.title = [Date.now() - 1_000_000 < 60_000, Math.random() < 1, new Date().getTime() > 999_999].join(' ');
`;
const PAGE = `<!DOCTYPE html><meta http-equiv="Content-Security-Policy" content="script-src 'unsafe-inline'; style-src 'none'">
<body><h1 id="top">Sailings</h1><script>`;

const OWN_CHECKS = `<!DOCTYPE html><title>Quay</title><body style="margin:0">
<p><a href="#timetable">Menu of the day</a></p>
<p><button id="menu" style="width:80px;height:30px"> Menu
</button> <button style="display:none">Booking</button></p>
<p><label for="pier">From</label> <input id="pier" value="Morvane"> <input placeholder="To"></p>
<p>The <b>tide</b> turns</p> <p style="opacity:0">Out of sight</p> <p hidden>Put away</p>
<img alt="A ferry" width="20" height="20"><div style="height:2000px"></div><p class="far">Far below</p>
<button id="far" style="width:80px;height:30px">Sail</button>`;

const LINKS = `<!DOCTYPE html><title>Quay</title><body style="margin:0"><nav hidden><a href="/own">Times</a></nav>
<a href="/own#today" style="display:block;width:80px;height:30px">Times</a>
<a href="/covered" style="display:block;width:80px;height:30px">Covered</a><div style="position:absolute;top:35px;width:100%;height:60px"></div>`;

let chromium: LaunchedBrowser;
let server: TestServer;
beforeAll(async () => {
  chromium = await launchChromium();
  server = await serve((request, response) => {
    response.writeHead(200, { 'content-type': 'text/html' });
    if (request.url === '/own') response.end(OWN_CHECKS);
    else if (request.url === '/links') response.end(LINKS);
    else response.end(`${PAGE}${request.url === '/clock' ? CLOCK : HOSTILE}</script>`);
  });
});
afterAll(async () => {
  await chromium.close();
  await server.close();
});

const device = {
  viewport: { width: 800, height: 600 },
  pixelRatio: 1,
  touch: false,
  agent: 'desktop' as const,
};

async function visiting(path: string, act: (visit: Visit) => Promise<void>): Promise<void> {
  const visit = await openVisit(chromium.browser, device, {
    clock: { seed: 7, startMs: 1_000_000 },
    state: null,
  });
  try {
    await goTo(visit, server.url + path, { ...LOAD_LIMITS, quietMs: 200 });
    await act(visit);
  } finally {
    await visit.close();
  }
}

describe('what checks of one’s own name', () => {
  it('is pressed by its name, exactly before how it begins, and where it can be seen', () =>
    visiting('own', async ({ inPage, page }) => {
      const idAt = async (what: string, selects = false) => {
        const point = await inPage.call('pressPoint', what, selects);
        if (!point) return null;
        return page.evaluate(({ x, y }) => {
          const there = document.elementFromPoint(x, y)!;
          return there.id || there.localName;
        }, point);
      };
      expect(await idAt('menu')).toBe('menu');
      expect(await idAt('Menu of')).toBe('a');
      expect(await idAt('Booking')).toBeNull();
      // It is scrolled to.
      expect(await idAt('Sail')).toBe('far');
      expect(await idAt('#menu', true)).toBe('menu');
      expect(await idAt('[', true)).toBeNull();
    }));

  it('is a field by its label or what stands in it, which typing replaces', () =>
    visiting('own', async ({ inPage, page }) => {
      expect(await inPage.call('focusField', 'from', false)).toBe(true);
      await page.keyboard.type('Orrask');
      expect(await inPage.call('isSeen', 'Orrask', false)).toBe(true);
      expect(await inPage.call('isSeen', 'Morvane', false)).toBe(false);
      expect(await inPage.call('focusField', 'To', false)).toBe(true);
      expect(await inPage.call('focusField', 'Via', false)).toBe(false);
    }));

  it('is seen where a visitor could see it, on screen or further down', () =>
    visiting('own', async ({ inPage }) => {
      const seen: Record<string, boolean> = {};
      for (const what of [
        'the tide turns',
        'A ferry',
        'Far below',
        'Out of sight',
        'Put away',
        'Booking',
        'opacity',
      ])
        seen[what] = await inPage.call('isSeen', what, false);
      expect(seen).toEqual({
        'the tide turns': true,
        'A ferry': true,
        'Far below': true,
        'Out of sight': false,
        'Put away': false,
        Booking: false,
        opacity: false,
      });
      expect([await inPage.call('isSeen', '.far', true), await inPage.call('isSeen', '.near', true)]).toEqual(
        [true, false],
      );
    }));
});

describe('what is asked of a page from inside', () => {
  it('is answered by the page as it stands, whatever it does to its own world', () =>
    visiting('hostile', async (visit) => {
      const layout = await visit.inPage.call('readLayout', {
        foldHeight: 600,
        viewport: device.viewport,
        everything: true,
      });
      expect(layout.boxes.map((box) => box.selector)).toContain('h1#top');
      expect(layout.boxes.find((box) => box.selector === 'h1#top')!.width).toBeGreaterThan(700);
      await visit.inPage.call('holdStill');
    }));

  it('is nothing that the page can see', () =>
    visiting('hostile', async (visit) => {
      await visit.inPage.call('lookAtPage', 10);
      const seen = await visit.page.evaluate(
        'JSON.stringify([typeof wistrel, Object.getOwnPropertyNames(window).length - window.before])',
      );
      expect(seen).toBe('["undefined",0]');
    }));

  it('goes on in the next document, and tells what a function threw', () =>
    visiting('hostile', async (visit) => {
      await visit.inPage.call('timeOrigin');
      await goTo(visit, `${server.url}other`, { ...LOAD_LIMITS, quietMs: 200 });
      expect(await visit.inPage.call('elementsAt', [{ x: 0.1, y: 0.05 }])).toEqual(['h1#top']);
      await expect(visit.inPage.call('elementsAt', null as never)).rejects.toThrow('TypeError');
    }));

  it('gives elements to the protocol', () =>
    visiting('hostile', async (visit) => {
      await visit.inPage.call('lookAtPage', 10);
      expect(await visit.inPage.handle('textElement', 0)).toMatch(/\d/);
      expect(await visit.inPage.handle('textElement', 99)).toBeNull();
    }));
});

it('a clock goes on though the page puts others in the place of what it uses', () =>
  visiting('clock', async (visit) => {
    expect(await visit.page.title()).toBe('true true true');
  }));

it('finds where a link can be pressed: the first that is in reach, or that there is one', async () => {
  await visiting('links', async ({ inPage, page }) => {
    const to = (path: string) => new URL(path, page.url()).href;
    expect(await inPage.call('linkPoint', to('/own'))).toEqual({ x: 40, y: 15 });
    expect(await inPage.call('linkPoint', to('/covered'))).toBe('out of reach');
    expect(await inPage.call('linkPoint', to('/nowhere'))).toBeNull();
    await Promise.all([page.waitForNavigation(), inPage.call('clickLink', to('/covered'))]);
    expect(page.url()).toBe(to('/covered'));
  });
});
