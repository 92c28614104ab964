/** The type that keeps a delayed script from running: no browser knows it. */
export const DELAYED_TYPE = 'text/wistrel-delayed';

/** After load, delayed scripts run by themselves when nobody has touched the page for so long. */
export const DELAY_FALLBACK_MS = 10_000;

/**
 * The inline script that runs delayed scripts at the first interaction, in document order, each after the
 * one before it, once the page is parsed and all of them are there; a new element takes the old one's place, so that currentScript and attributes hold.
 */
export const DELAY_LOADER = `(function(w,d){
var events=['pointerdown','keydown','touchstart','wheel','scroll'],started=false;
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
events.forEach(function(e){w.removeEventListener(e,start,true);});
run(Array.prototype.slice.call(d.querySelectorAll('script[type="${DELAYED_TYPE}"]')),0);
}
events.forEach(function(e){w.addEventListener(e,start,{capture:true,passive:true});});
w.addEventListener('load',function(){setTimeout(start,${DELAY_FALLBACK_MS});});
})(window,document);`;
