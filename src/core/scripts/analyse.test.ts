import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyseScript, namesReadBy } from './analyse.ts';

describe('analyseScript', () => {
  it('finds document.write with its line', () => {
    const facts = analyseScript('var a = 1;\n\ndocument.write("<p>" + a + "</p>");');
    expect(facts.findings).toEqual([
      { what: 'document.write', line: 3, excerpt: 'document.write("<p>" + a + "</p>");' },
    ]);
  });

  it('finds currentScript, ready and load listeners', () => {
    const facts = analyseScript(
      'var me = document.currentScript;\ndocument.addEventListener("DOMContentLoaded", go);\nwindow.addEventListener("load", go);\nwindow.onload = go;\nfunction go(){}',
    );
    expect(facts.findings.map((f) => [f.what, f.line])).toEqual([
      ['currentScript', 1],
      ['ready-listener', 2],
      ['load-listener', 3],
      ['load-listener', 4],
    ]);
  });

  it('does not take a load listener of an image for one of the page', () => {
    expect(analyseScript('img.addEventListener("load", f); function f(){}').findings).toEqual([]);
    expect(analyseScript('img.onload = f; function f(){}').findings).toEqual([]);
  });

  it('says what is defined: declarations, window members and undeclared names', () => {
    const facts = analyseScript(
      'var tide = 1; function sail(){ hidden = 2; var mine = 3 } window.pier = tide; class Buoy {}',
    );
    expect(facts.defines.sort()).toEqual(['Buoy', 'hidden', 'pier', 'sail', 'tide']);
  });

  it('takes a function that stands in a block for a name of the page, as the language does', () => {
    const definesOf = (source: string) => analyseScript(source).defines;
    expect(definesOf('if (wide) { function menu() {} }')).toEqual(['menu']);
    expect(definesOf('switch (wide) { case 1: { function menu() {} } }')).toEqual(['menu']);
    expect(definesOf('"use strict"; if (wide) { function menu() {} }')).toEqual([]);
    expect(definesOf('{ let menu; { function menu() {} } }')).toEqual([]);
    expect(definesOf('(function () { if (wide) { function menu() {} } })()')).toEqual([]);
  });

  it('says what is read, at any depth, less what is its own', () => {
    const facts = analyseScript(
      '(function(a){ var b = a + tide.level; window.pier.go(b); typeof maybe; })(quay);',
    );
    expect(facts.reads).toEqual([
      { name: 'tide', line: 1 },
      { name: 'pier', line: 1 },
      // Asked with typeof: what it finds depends on whether the other script has run.
      { name: 'maybe', line: 1 },
      { name: 'quay', line: 1 },
    ]);
  });

  it('finds a library wrapped in a function by its window assignment', () => {
    const library =
      '(function(g){ "use strict"; var q = function(){}; window.tide = window.t = q; })(window);';
    expect(analyseScript(library).defines.sort()).toEqual(['t', 'tide']);
  });

  it('follows the global object into a factory that is handed on', () => {
    const wrapped =
      '!function(e,t){"object"==typeof module?module.exports=t(e,!0):t(e)}("undefined"!=typeof window?window:this,function(w,no){var q=function(){};no||(w.tide=w.t=q)});';
    expect(analyseScript(wrapped).defines.sort()).toEqual(['t', 'tide']);
    const old = '(function(){ var root = this; root.pier = 1; }).call(this);';
    expect(analyseScript(old).defines).toEqual(['pier']);
    expect(analyseScript('(function(a){ a.x = 1 })({})').defines).toEqual([]);
  });

  it('knows what a widely used library defines', () => {
    const source = readFileSync('node_modules/jquery/dist/jquery.min.js', 'utf8');
    expect(analyseScript(source).defines.sort()).toEqual(['$', 'jQuery']);
  });

  it('finds the class that hides the page and the one that a script takes away', () => {
    const snippet = analyseScript("document.documentElement.className += ' waiting';");
    expect(snippet.addsMarks).toEqual(['.waiting']);
    const ender = analyseScript("document.documentElement.classList.remove('waiting')");
    expect(ender.removesMarks).toEqual(['.waiting']);
    const old = analyseScript(
      "document.documentElement.className = document.documentElement.className.replace(/\\bwaiting\\b/, '')",
    );
    expect(old.removesMarks).toContain('.waiting');
    expect(analyseScript("document.body.style.opacity = '0'").findings[0]?.what).toBe('hides-page');
  });

  it('knows a consent script by what it says, whatever its address', () => {
    expect(analyseScript('var bar = "cookie-notice"').speaksOfConsent).toBe(true);
    expect(analyseScript('var bar = "weather"').speaksOfConsent).toBe(false);
  });

  it('gives the parser’s message for a script it cannot read', () => {
    expect(analyseScript('var = ;').unreadable).toMatch(/Unexpected token/);
  });

  it('reads inline handlers', () => {
    expect(namesReadBy('tide.open(this); return event.x')).toEqual(['tide']);
  });
});

it('takes module loaders’ names for what they are: names that another script defines', () => {
  expect(
    analyseScript('require(["tides"], function () {}); define("x", {});').reads.map((one) => one.name),
  ).toEqual(['require', 'define']);
  expect(
    analyseScript('typeof module === "object" ? module.exports : 0;').reads.map((one) => one.name),
  ).toEqual(['module']);
});
