/** Names that every page has: reading one says nothing about another script, unless one of the page's writes it. */
export const PLATFORM = new Set(
  (
    'window self globalThis document navigator location history screen console performance localStorage sessionStorage ' +
    'undefined NaN Infinity Object Array String Number Boolean Symbol Function Promise Map Set WeakMap WeakSet WeakRef Proxy Reflect ' +
    'Date Math JSON RegExp Error TypeError RangeError SyntaxError ReferenceError EvalError URIError BigInt Intl parseInt parseFloat isNaN isFinite ' +
    'encodeURIComponent decodeURIComponent encodeURI decodeURI escape unescape eval setTimeout clearTimeout setInterval ' +
    'clearInterval requestAnimationFrame cancelAnimationFrame requestIdleCallback cancelIdleCallback queueMicrotask fetch ' +
    'XMLHttpRequest Request Response Headers URL URLSearchParams FormData Blob File FileReader Event CustomEvent MouseEvent ' +
    'Node Element HTMLElement SVGElement Document DocumentFragment Text Image Audio Option MutationObserver NodeFilter ' +
    'IntersectionObserver ResizeObserver PerformanceObserver AbortController getComputedStyle matchMedia alert confirm prompt ' +
    'addEventListener removeEventListener dispatchEvent scrollTo scrollBy scroll open close postMessage innerWidth innerHeight ' +
    'outerWidth outerHeight devicePixelRatio arguments customElements CSS Worker SharedWorker WebSocket EventSource DOMParser XMLSerializer crypto atob btoa ' +
    'ArrayBuffer Uint8Array Int8Array Uint16Array Int16Array Uint32Array Int32Array Float32Array Float64Array DataView TextEncoder ' +
    'TextDecoder pageXOffset pageYOffset scrollX scrollY isSecureContext indexedDB caches visualViewport ' +
    'onload onerror HTMLFormElement HTMLInputElement NodeList HTMLCollection Window event name status parent top frames'
  ).split(' '),
);
