/** The type that keeps a delayed script from running: no browser knows it. */
export const DELAYED_TYPE = 'text/wistrel-delayed';

/** The same for one that runs once something is to be seen. */
export const AFTER_PAINT_TYPE = 'text/wistrel-after-paint';

/** After load, delayed scripts run by themselves when nobody has touched the page for so long. */
export const DELAY_FALLBACK_MS = 10_000;

/** In a tab in the background no frame is drawn: there they run this long after load. */
const NO_FRAME_MS = 1_000;

/**
 * Runs waiting scripts in document order, each after the one before it, once the page is parsed and all of them are
 * there; a new element takes the old one's place, so that currentScript and attributes hold.
 *
 * @param when code that calls `start`, which may be called more than once
 */
function loader(type: string, when: string): string {
  return `(function(w,d){
var started=false;
function run(list,i){
var old=list[i];if(!old)return;
var s=d.createElement('script'),src=old.getAttribute('data-src');
for(var k=0;k<old.attributes.length;k++){var a=old.attributes[k];if(a.name!=='type'&&a.name!=='data-src'&&a.name!=='data-type')s.setAttribute(a.name,a.value);}
if(old.getAttribute('data-type'))s.type=old.getAttribute('data-type');
if(old.nonce)s.nonce=old.nonce;
function next(){run(list,i+1);}
if(src){s.async=false;s.onload=s.onerror=next;s.src=src;}else{s.text=old.text;}
old.parentNode.replaceChild(s,old);
if(!src)next();
}
function start(){
if(started)return;
if(d.readyState==='loading'){d.addEventListener('DOMContentLoaded',start);return;}
started=true;
run(Array.prototype.slice.call(d.querySelectorAll('script[type="${type}"]')),0);
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
  {
    module,
    attributes: { src, type: own },
  }: { module: boolean; attributes: Readonly<Record<string, string>> },
  type: string,
): Record<string, string | null> {
  return {
    type,
    ...(module && own !== undefined ? { 'data-type': own } : {}),
    ...(src === undefined ? {} : { src: null, 'data-src': src }),
    async: null,
    defer: null,
  };
}
