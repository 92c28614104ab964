/** A fault that treating may bring, put into a page's HTML; null where the page has nothing of the kind. */
export interface Fault {
  kind: string;
  /** What the page's code has to hold for it to be one. */
  needs?: RegExp;
  into: (html: string, css: string) => string | null;
}

const atHead = (html: string, put: string) => html.replace(/<head[^>]*>/i, (head) => head + put);
const atEnd = (html: string, put: string) => html.replace(/<\/body>/i, `${put}</body>`);
const script = (code: string) => `<script>${code}</script>`;

/** Listeners of an event are made into what `made` gives. */
const listeners = (events: string, made: string) =>
  script(
    `(function(){var add=EventTarget.prototype.addEventListener;EventTarget.prototype.addEventListener=function(type,heard,how){return add.call(this,type,${events}.indexOf(type)>=0&&heard?(${made}):heard,how)};})()`,
  );
const onceReady = (code: string) => script(`addEventListener("load",function(){${code}})`);

const SHEET = /<link[^>]+rel=["']?stylesheet[^>]*>/gi;

export const FAULTS: readonly Fault[] = [
  {
    kind: 'a handler lost',
    into: (html) => atHead(html, listeners('["click"]', 'function(){}')),
  },
  {
    kind: 'a tap answered twice',
    into: (html) =>
      atHead(
        html,
        listeners(
          '["click"]',
          // As one that is passed on once scripts have come.
          'function(e){var on=this,f=heard.handleEvent?heard.handleEvent.bind(heard):heard;f.call(on,e);setTimeout(function(){f.call(on,e)},400)}',
        ),
      ),
  },
  {
    kind: 'the first tap lost',
    into: (html) =>
      atHead(
        html,
        script(
          'addEventListener("click",function(e){e.stopImmediatePropagation();e.preventDefault()},{capture:true,once:true})',
        ),
      ),
  },
  {
    kind: 'text missing',
    into: (html) =>
      atEnd(
        html,
        script(
          'var all=[].slice.call(document.querySelectorAll("p")).filter(function(p){return p.textContent.trim().length>20});if(all.length)all[all.length-1].textContent=""',
        ),
      ),
  },
  {
    kind: 'the order of sheets swapped',
    // What comes first applies last.
    into: (html, css) => {
      const middle = css.indexOf('\n}\n', css.length >> 1);
      const first = middle < 0 ? css.split('\n')[0]! : css.slice(0, middle + 3);
      return css ? atEnd(html, `<style>${first}</style>`) : null;
    },
  },
  {
    kind: 'a sheet lost',
    into: (html) => {
      const sheets = html.match(SHEET) ?? [];
      return sheets.length ? html.replace(sheets.at(-1)!, '') : null;
    },
  },
  {
    kind: 'a font never applied',
    into: (html) => atEnd(html, '<style>h1,h2{font-family:monospace!important}</style>'),
  },
  {
    kind: 'an image gone',
    into: (html) => {
      const images = html.match(/<img[^>]*>/gi) ?? [];
      return images.length ? html.replace(images.at(-1)!, (img) => img.replace(/src=/i, 'data-gone=')) : null;
    },
  },
  {
    kind: 'a form’s message gone',
    needs: /addEventListener\(['"](submit|change)/,
    into: (html) =>
      /<form/i.test(html)
        ? atHead(html, listeners('["submit","input","change","invalid","blur","keyup"]', 'function(){}'))
        : null,
  },
  {
    kind: 'the focus lost',
    into: (html) =>
      atHead(html, script('addEventListener("focusin",function(e){e.target.blur&&e.target.blur()},true)')),
  },
  {
    kind: 'a menu under something',
    into: (html) =>
      atEnd(
        html,
        '<div style="position:fixed;top:0;left:0;right:0;height:120px;z-index:99999;opacity:0"></div>',
      ),
  },
  {
    kind: 'a beacon lost',
    needs: /sendBeacon/,
    into: (html) =>
      atHead(
        html,
        script('navigator.sendBeacon=function(){return true};addEventListener("error",function(){})'),
      ),
  },
  {
    kind: 'late content that never comes',
    needs: /addEventListener\(['"]scroll|new IntersectionObserver/,
    into: (html) =>
      atHead(
        html,
        script(
          'window.IntersectionObserver=function(){this.observe=this.unobserve=this.disconnect=function(){}}',
        ) + listeners('["scroll"]', 'function(){}'),
      ),
  },
  {
    kind: 'an error thrown',
    into: (html) => atEnd(html, onceReady('throw new Error("lost")')),
  },
  {
    kind: 'a part hidden',
    into: (html) => atEnd(html, '<style>footer,section:last-of-type{visibility:hidden!important}</style>'),
  },
  {
    kind: 'what a script makes is gone',
    into: (html) => {
      const scripts = html.match(/<script[^>]+src=[^>]*><\/script>/gi) ?? [];
      return scripts.length ? html.replace(scripts.at(-1)!, '') : null;
    },
  },
];
