import { describe, expect, it } from 'vitest';
import { madePage } from '../../../tests/engine/made-capture.ts';
import { readPageAssets } from '../page/page-assets.ts';
import { refusalWords } from '../words/refusals.ts';
import { fileNameOf } from '../path/names.ts';
import { refusalsIn } from './legal.ts';
import { sceneOf } from './scene.ts';

const PAGE =
  '<h1>Quay</h1><div id="map"></div><ul class="tides"><li>Noon</li></ul><script src="a.js"></script><script src="b.js"></script>';

/** Why the scripts of the page cannot have treatments, by their names; null for each that can. */
function refused(files: Record<string, string>, chosen: Record<string, string>) {
  const scene = sceneOf(readPageAssets(madePage(PAGE, { 'b.js': '', ...files }), []), null);
  const scripts = new Map(scene.page.scripts.map((one) => [fileNameOf(one.element.url!), one]));
  const choices = new Map(Object.entries(chosen).map(([name, id]) => [scripts.get(name)!, id]));
  const refusals = refusalsIn(scene, choices);
  return Object.fromEntries(
    Object.keys(chosen).map((name) => {
      const refusal = refusals.get(scripts.get(name)!);
      return [name, refusal ? refusalWords(refusal) : null];
    }),
  );
}

const near = (text: string) => refused({ 'a.js': text }, { 'a.js': 'near-view' })['a.js'];

describe('a script that waits until its elements come near', () => {
  it.each([
    'document.getElementById("map").innerHTML = "<canvas></canvas>";',
    'document.querySelectorAll("ul.tides li").forEach(function (one) { one.onclick = function () { one.hidden = true; }; });',
    'var map = document.querySelector("#map"); map.addEventListener("click", function () { map.classList.add("open"); });',
    'fetch("/tides.json").then((one) => one.json()).then((one) => { document.querySelector(".tides").innerHTML = one.html; });',
  ])('may, as it works with nothing else: %s', (text) => {
    expect(near(text)).toBeNull();
  });

  it.each([
    ['document.querySelector(".elsewhere").textContent = 1;', 'is not for this'],
    ['console.log(1);', 'is not for this'],
    [
      'var here = document.querySelector("#map"); document.querySelector(here.dataset.of).hidden = true;',
      'which elements it works with cannot be known by reading it: line 1 of a.js',
    ],
    [
      'document.querySelector("#map");\n\ndocument.querySelectorAll("a").forEach((a) => a.remove());',
      'it works with all elements of a sort, which stand anywhere: line 3 of a.js',
    ],
    [
      'document.querySelector("#map").hidden = true; document.documentElement.className = "js";',
      'as a whole',
    ],
    ['document.querySelector("#map").hidden = true;\ndocument.title = "1 new";', 'line 2 of a.js'],
    [
      'document.querySelector("#map");\n(function (d) { d.addEventListener("click", function () { go(); }); })(document);',
      'it hears what visitors do anywhere on the page: line 2 of a.js',
    ],
    ['document.querySelector("#map"); addEventListener("scroll", function () { go(); });', 'hears'],
    ['document.querySelector("#map"); window.onkeydown = function () { go(); };', 'hears'],
    ['document.querySelector("#map"); document.onclick = function () { go(); };', 'hears'],
    ['$("#map").hide(); $(document).on("click", ".tides", go);', 'hears'],
    ['document.querySelector("#map"); document.cookie = "seen=1";', 'it keeps or sends something'],
    ['document.querySelector("#map"); navigator.sendBeacon("/seen");', 'it keeps or sends something'],
    ['document.querySelector("#map"); eval(code);', 'cannot be known'],
    ['document.querySelector("#map"); document.write("<p>");', 'it writes into the page while it is parsed'],
  ])('may not where it might be wanted before: %s', (text, why) => {
    expect(near(text)).toContain(why);
  });

  it('hears nothing of visitors by listening to the load of the page', () => {
    expect(
      near('addEventListener("load", function () { document.querySelector("#map").hidden = true; });'),
    ).toContain('its listener waits for an event that is over by then');
  });
});

describe('two scripts that both wait', () => {
  const files = {
    'a.js': 'var depth = 7; document.querySelector("#map").hidden = true;',
    'b.js': 'document.querySelector(".tides").textContent = depth;',
  };

  it.each(['near-view', 'delay', 'at-rest', 'after-paint'])(
    'keep their order where both wait for the same: %s',
    (id) => {
      expect(refused(files, { 'a.js': id, 'b.js': id })).toEqual({ 'a.js': null, 'b.js': null });
    },
  );

  it.each([
    ['at-rest', 'delay'],
    ['after-paint', 'delay'],
    ['delay', 'near-view'],
    ['near-view', 'at-rest'],
  ])(
    'do not where each waits for something else, and what comes first is not known: %s, %s',
    (first, second) => {
      expect(refused(files, { 'a.js': first, 'b.js': second })).toEqual({
        'a.js': 'line 1 of b.js reads “depth”, and waits for something else, which may come first',
        'b.js': null,
      });
      expect(
        refused({ ...files, 'b.js': 'tides = 1;' }, { 'a.js': first, 'b.js': second })['a.js'],
      ).toBeNull();
    },
  );
});
