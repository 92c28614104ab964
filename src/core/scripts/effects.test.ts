import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyseScript } from './analyse.ts';
import type { AccessKind } from './effects.ts';
import type { Phase } from './phases.ts';

/** "name kind phase", with the parts that are meant. */
function accesses(source: string, kind?: AccessKind): string[] {
  return analyseScript(source)
    .effects.accesses.filter((one) => !kind || one.kind === kind)
    .map(({ name, kind: how, phase, members }) =>
      [name, how, phase, ...(members === null ? ['*'] : members)].join(' '),
    );
}

const phasesOf = (source: string, name: string): Phase[] =>
  analyseScript(source)
    .effects.accesses.filter((one) => one.name === name && one.kind === 'read')
    .map((one) => one.phase);

describe('what a script does with names', () => {
  it('tells parts of a name from the name', () => {
    expect(accesses('App.utils.fmt = 1;')).toEqual(['App read run', 'App write run fmt']);
    expect(accesses('window.App = {};', 'write')).toEqual(['App write run']);
  });

  it('knows a definition that is only made where there is none', () => {
    expect(accesses('window.calls = window.calls || [];', 'stub')).toEqual(['calls stub run']);
    expect(accesses('calls.push(1);', 'push')).toEqual(['calls push run']);
  });

  it('takes a call of a part for a change of what it holds, and the making of an object for none', () => {
    expect(accesses('App.add(1);', 'touch')).toEqual(['App touch run add']);
    expect(accesses('new App(1);', 'touch')).toEqual(['App touch run']);
    expect(accesses("q('.x').hide();", 'touch')).toEqual([]);
  });

  it('follows names into wrappers', () => {
    expect(accesses('(function (q) { q.fn.slide = 1; })(quay);', 'write')).toEqual(['quay write run slide']);
    expect(accesses('Object.assign(window, { a: 1, b: 2 });', 'write')).toEqual([
      'a write run',
      'b write run',
    ]);
    expect(accesses('Function("return this")().c = 1;', 'write')).toEqual(['c write run']);
  });

  it('says that it does not know what is computed', () => {
    expect(accesses('for (var k in api) window[k] = api[k];', 'write')).toContain('? write run *');
    expect(accesses('eval(text);', 'write')).toContain('? write run *');
  });

  it('knows stores, cookies, titles and what all objects of a kind have', () => {
    expect(accesses("localStorage.setItem('berth', 1);", 'write')).toEqual(['localStorage write run berth']);
    expect(accesses("document.cookie = 'a=1';", 'write')).toEqual(['document.cookie write run']);
    expect(accesses('String.prototype.shout = f; function f() {}', 'write')).toContain('* write run shout');
  });
});

describe('when the parts of a script run', () => {
  it.each([
    ['tide();', ['run']],
    ['(function () { tide(); })();', ['run']],
    ['function go() { tide(); } go();', ['run', 'called']],
    ['setTimeout(function () { tide(); });', ['soon']],
    ["document.addEventListener('DOMContentLoaded', function () { tide(); });", ['ready']],
    ['window.onload = function () { tide(); };', ['ready']],
    ["img.addEventListener('load', function () { tide(); });", ['soon']],
    ["b.addEventListener('click', function () { tide(); });", ['input']],
    ['b.onclick = function () { tide(); };', ['input']],
    ['q(function () { tide(); });', ['ready']],
    ['window.App = { go: function () { tide(); } };', ['called']],
    ['[1].forEach(function () { tide(); });', ['run']],
    ['other.thing(function () { tide(); });', ['called', 'perhaps']],
  ] as [string, Phase[]][])('%s', (source, phases) => {
    expect(phasesOf(source, 'tide').sort()).toEqual([...phases].sort());
  });
});

describe('what a script does with elements', () => {
  const elements = (source: string) =>
    analyseScript(source).effects.elements.map(({ phase, seeks, makes, writes }) => ({
      phase,
      seeks: seeks && [...seeks],
      makes: [...makes],
      writes,
    }));

  it('knows what it looks for and what it puts there', () => {
    expect(elements("document.querySelector('nav > .open').textContent = 'x';")).toEqual([
      { phase: 'run', seeks: ['.open'], makes: [], writes: true },
    ]);
    expect(elements("e.innerHTML = '<b id=crate class=wet>x</b>';")).toEqual([
      { phase: 'run', seeks: [], makes: ['b', '[id]', '#crate', '[class]', '.wet'], writes: true },
    ]);
    expect(elements('document.querySelectorAll(selector);')).toEqual([
      { phase: 'run', seeks: null, makes: [], writes: false },
    ]);
  });

  it('does not take what a widely used library tries out for a look at the page', () => {
    const source = readFileSync('node_modules/jquery/dist/jquery.min.js', 'utf8');
    const { effects, findings } = analyseScript(source);
    expect(effects.elements.find((one) => one.phase === 'run')?.seeks).toEqual(new Set());
    expect(effects.accesses.filter((one) => one.name === '?' && one.phase === 'run')).toEqual([]);
    // It runs scripts that it is given as texts in the head: for a style's order that is nothing.
    expect(findings.map((one) => one.what)).toEqual(['appends-to-head']);
  });
});

describe('what holds a script at its place', () => {
  const findings = (source: string) => analyseScript(source).findings.map((one) => one.what);

  it.each([
    ['var d = document; d.write("x");', 'document.write'],
    ['document[how]("x");', 'document.write'],
    ['var put = document.write.bind(document);', 'document.write'],
    ['var all = document.getElementsByTagName("script"); all[all.length - 1];', 'last-script'],
    ['document.scripts[document.scripts.length - 1];', 'last-script'],
    ['var early = document.readyState === "loading";', 'ready-state'],
    [
      'document.onreadystatechange = function () { if (document.readyState === "interactive") go(); };',
      'interactive-listener',
    ],
    ['document.body.appendChild(e);', 'appends-to-body'],
    ['document.documentElement.classList.add("js");', 'marks-root'],
    ['var csrfToken = "abc";', 'visit-data'],
  ])('%s', (source, what) => {
    expect(findings(source)).toContain(what);
  });

  it('lets a script write into a frame of its own', () => {
    const wrote = (between: string) =>
      findings(
        `function measure() { var doc = document; doc = (f.contentWindow || f.contentDocument).document; ${between} doc.write("<body>"); }`,
      ).includes('document.write');
    expect(wrote('')).toBe(false);
    expect(wrote('f.open();')).toBe(false);
    expect(wrote('doc = document;')).toBe(true);
    expect(wrote('if (none) doc = document;')).toBe(true);
  });

  it('lets a script be that asks whether its moment is over', () => {
    expect(
      findings(
        'if (document.readyState === "loading") document.addEventListener("DOMContentLoaded", go); else go();',
      ),
    ).toEqual([]);
    expect(findings('document.getElementsByTagName("script")[0].parentNode.insertBefore(s, null);')).toEqual(
      [],
    );
  });
});
