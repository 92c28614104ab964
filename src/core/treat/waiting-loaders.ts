import type { PageScript } from '../page/page-assets.ts';
import { sharingOf } from './sharing.ts';
import type { Scene } from './treatment.ts';

/** The type that keeps a delayed script from running: no browser knows it. */
export const DELAYED_TYPE = 'text/wistrel-delayed';

/** The same for one that runs once something is to be seen. */
export const AFTER_PAINT_TYPE = 'text/wistrel-after-paint';

/** The same for one that runs once the page has loaded and rests. */
export const AT_REST_TYPE = 'text/wistrel-at-rest';

/** Says of a waiting script that it need not wait for the others before it. */
const ALONE = 'data-wistrel-alone';

/** After load, delayed scripts run by themselves when nobody has touched the page for so long. */
export const DELAY_FALLBACK_MS = 10_000;

/** A main thread that never rests is not waited for longer than this after load. */
const REST_LIMIT_MS = 3_000;

/** In a tab in the background no frame is drawn: there they run this long after load. */
const NO_FRAME_MS = 1_000;

/**
 * Runs waiting scripts once the page is parsed and all of them are there: those that share something with another
 * one in document order, each after the one before it; the others at once, so that a slow file holds up none of them.
 * All files are asked for when it begins. A new element takes the old one's place, so that currentScript and
 * attributes hold.
 *
 * @param when code that calls `start`, which may be called more than once
 */
function loader(type: string, when: string): string {
  return `(function(w,d){
var started=false;
function run(list,i){
var old=list[i];if(!old)return;
var s=d.createElement('script'),src=old.getAttribute('data-src');
for(var k=0;k<old.attributes.length;k++){var a=old.attributes[k];if(a.name!=='type'&&a.name!=='data-src'&&a.name!=='data-type'&&a.name!=='${ALONE}')s.setAttribute(a.name,a.value);}
if(old.getAttribute('data-type'))s.type=old.getAttribute('data-type');
if(old.nonce)s.nonce=old.nonce;
function next(){run(list,i+1);}
if(src){s.async=false;s.addEventListener('load',next);s.addEventListener('error',next);s.src=src;}else{s.text=old.text;}
old.parentNode.replaceChild(s,old);
if(!src)next();
}
function ask(old){
var l=d.createElement('link');
l.rel=old.getAttribute('data-type')==='module'?'modulepreload':'preload';
l.setAttribute('as','script');
['crossorigin','integrity','referrerpolicy'].forEach(function(n){if(old.hasAttribute(n))l.setAttribute(n,old.getAttribute(n));});
if(old.nonce)l.nonce=old.nonce;
l.href=old.getAttribute('data-src');
d.head.appendChild(l);
}
function start(){
if(started)return;
if(d.readyState==='loading'){d.addEventListener('DOMContentLoaded',start);return;}
started=true;
var all=Array.prototype.slice.call(d.querySelectorAll('script[type="${type}"]'));
function alone(s){return s.hasAttribute('${ALONE}');}
var row=all.filter(function(s){return !alone(s);});
row.slice(1).forEach(function(s){if(s.hasAttribute('data-src'))ask(s);});
run(row,0);
all.filter(alone).forEach(function(s){run([s],0);});
}
${when}
})(window,document);`;
}

/** The inline script that runs delayed scripts at the first interaction. */
export const DELAY_LOADER = loader(
  DELAYED_TYPE,
  `var events=['pointerdown','keydown','touchstart','wheel','scroll'];
events.forEach(function(e){w.addEventListener(e,function(){start();},{capture:true,passive:true,once:true});});
w.addEventListener('load',function(){setTimeout(start,${DELAY_FALLBACK_MS});});`,
);

/** The inline script that runs scripts once the page has loaded and its main thread rests. */
export const AT_REST_LOADER = loader(
  AT_REST_TYPE,
  `w.addEventListener('load',function(){
if(w.requestIdleCallback)w.requestIdleCallback(start,{timeout:${REST_LIMIT_MS}});else setTimeout(start,${NO_FRAME_MS});
});`,
);

/** The inline script that runs scripts once the first content is on screen: its frame is drawn before they begin. */
export const AFTER_PAINT_LOADER = loader(
  AFTER_PAINT_TYPE,
  // Once all has loaded nothing is in anybody's way: of a page that shows nothing the next frame is waited for.
  `function drawn(){requestAnimationFrame(function(){setTimeout(start);});}
try{new PerformanceObserver(function(list){if(list.getEntriesByName('first-contentful-paint').length)drawn();}).observe({type:'paint',buffered:true});}catch(e){}
w.addEventListener('load',function(){requestAnimationFrame(drawn);setTimeout(start,${NO_FRAME_MS});});`,
);

/** The attributes by which a script waits: it keeps its others. @param type one of the types above */
export function waitingAttributes(
  script: PageScript,
  scene: Scene,
  type: string,
): Record<string, string | null> {
  const { module, element } = script.element;
  const { src, type: own } = element.attributes;
  return {
    type,
    ...(module && own !== undefined ? { 'data-type': own } : {}),
    ...(src === undefined ? {} : { src: null, 'data-src': src }),
    ...(sharesNothing(script, scene) ? { [ALONE]: '' } : {}),
    async: null,
    defer: null,
  };
}

/** Whether no other script of the page works with anything that this one does: in what order they run is no matter. */
function sharesNothing(script: PageScript, { page }: Scene): boolean {
  const others = new Set(page.scripts);
  others.delete(script);
  return !sharingOf(page).some(
    ({ writer, reader }) =>
      (writer === script && others.has(reader)) || (reader === script && others.has(writer)),
  );
}
