import type { PageScript } from '../page/page-assets.ts';
import { sharingOf } from './sharing.ts';
import type { Scene } from './treatment.ts';

/** The type that keeps a delayed script from running: no browser knows it. */
export const DELAYED_TYPE = 'text/wistrel-delayed';

/** The same for one that runs once something is to be seen. */
export const AFTER_PAINT_TYPE = 'text/wistrel-after-paint';

/** The same for one that runs once the page has loaded and rests. */
export const AT_REST_TYPE = 'text/wistrel-at-rest';

/** The same for one that runs once an element that it works with is near the view. */
export const NEAR_VIEW_TYPE = 'text/wistrel-near-view';

/** Names the elements that such a script waits for, as a list of selectors. */
export const NEAR_ELEMENTS = 'data-wistrel-near';

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
 * @param when code that calls `start`, which may be called more than once; or `begin`, once for each of `rows` at most
 */
function loader(type: string, when: string): string {
  return `(function(w,d){
var started=false;
function run(list,i){
var old=list[i];if(!old)return;
var s=d.createElement('script'),src=old.getAttribute('data-src');
for(var k=0;k<old.attributes.length;k++){var a=old.attributes[k];if(a.name!=='type'&&a.name!=='data-src'&&a.name!=='data-type'&&a.name!=='${ALONE}'&&a.name!=='${NEAR_ELEMENTS}')s.setAttribute(a.name,a.value);}
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
function begin(row){
row.slice(1).forEach(function(s){if(s.hasAttribute('data-src'))ask(s);});
run(row,0);
}
function rows(){
var all=Array.prototype.slice.call(d.querySelectorAll('script[type="${type}"]'));
function alone(s){return s.hasAttribute('${ALONE}');}
return [all.filter(function(s){return !alone(s);})].concat(all.filter(alone).map(function(s){return [s];}));
}
function start(){
if(started)return;
if(d.readyState==='loading'){d.addEventListener('DOMContentLoaded',start);return;}
started=true;
rows().forEach(begin);
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

/**
 * The inline script that runs scripts when one of the elements they work with is a screen away from the view, each row
 * by itself. What has no box once the page has loaded may be shown anywhere at any time: there a row begins then. So it
 * does before the page is printed.
 */
export const NEAR_VIEW_LOADER = loader(
  NEAR_VIEW_TYPE,
  `function watch(row){
var begun=false,seen=new WeakSet(),asked=false,near,more;
var names=row.map(function(s){return s.getAttribute('${NEAR_ELEMENTS}');}).join(', ');
function go(){if(begun)return;begun=true;if(near)near.disconnect();if(more)more.disconnect();begin(row);}
function found(){try{return Array.prototype.slice.call(d.querySelectorAll(names));}catch(e){go();return [];}}
function look(){asked=false;if(!begun)found().forEach(function(e){if(!seen.has(e)){seen.add(e);near.observe(e);}});}
function whole(){var all=found();if(!all.length||all.some(function(e){return !e.getClientRects().length;}))go();}
if(!w.IntersectionObserver||!w.WeakSet)whole=go;
if(d.readyState==='complete')whole();else w.addEventListener('load',function(){whole();});
w.addEventListener('beforeprint',go);
if(begun||whole===go)return;
near=new IntersectionObserver(function(all){if(all.some(function(one){return one.isIntersecting;}))go();},{rootMargin:'100% 0px'});
more=new MutationObserver(function(){if(!asked){asked=true;requestAnimationFrame(look);}});
more.observe(d.documentElement,{childList:true,subtree:true});
look();
}
function parsed(){rows().forEach(function(row){if(row.length)watch(row);});}
if(d.readyState==='loading')d.addEventListener('DOMContentLoaded',parsed);else parsed();`,
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
