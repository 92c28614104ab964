/** What a link is called that is asked for once the page has nothing else to do. */
export const WHEN_IDLE = 'prefetch-when-idle';

/** So many files are asked for at a time. */
const AT_A_TIME = 2;

/**
 * Asks for what next pages need, once the page has loaded and rests: documents by speculation rules where a browser
 * knows those (else as files), files two at a time. Never where a visitor saves data, or is on a line that is hardly one.
 */
export const PREFETCH_IDLE = `(function(d){
var line=navigator.connection||{},nonce=d.currentScript&&d.currentScript.nonce;
if(line.saveData||/2g/.test(line.effectiveType||''))return;
function go(){
var links=[].slice.call(d.querySelectorAll('link[rel="${WHEN_IDLE}"]'));
if(window.HTMLScriptElement&&HTMLScriptElement.supports&&HTMLScriptElement.supports('speculationrules')){
var pages=links.filter(function(l){return l.getAttribute('as')==='document';});
links=links.filter(function(l){return pages.indexOf(l)<0;});
if(pages.length){
var rules=d.createElement('script');
rules.type='speculationrules';
if(nonce)rules.nonce=nonce;
rules.textContent=JSON.stringify({prefetch:[{source:'list',eagerness:'immediate',urls:pages.map(function(l){return l.href;})}]});
d.body.appendChild(rules);
}
}
function next(){var link=links.shift();if(!link)return;link.onload=link.onerror=next;link.rel='prefetch';}
for(var i=0;i<${AT_A_TIME};i++)next();
}
function rested(){(window.requestIdleCallback||setTimeout)(go);}
if(d.readyState==='complete')rested();
else addEventListener('load',function(){setTimeout(rested);});
})(document);`;
