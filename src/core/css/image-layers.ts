import { generate, parse, type CssNode } from 'css-tree';

/** One of the pictures that a background is made of, the topmost first. */
export interface ImageLayer {
  /** As `background-image` names it. */
  text: string;
  /** Its address as written, where it is a file's; null for a gradient and the like. */
  url: string | null;
}

/** Functions whose value is a picture (CSS Images 3 and 4). */
const DRAWS =
  /^(-\w+-)?(image-set|image|cross-fade|element|paint|(repeating-)?(linear|radial|conic)-gradient)$/i;

/**
 * The pictures in a value of `background` or `background-image`, one for each of its layers (CSS Backgrounds 3, 2.2).
 *
 * @returns null where what it comes to is not known before it is used, or it cannot be read
 */
export function imageLayers(value: string): ImageLayer[] | null {
  if (/\b(var|env|attr|if)\(|\/\*/i.test(value)) return null;
  const parts = partsOf(value);
  if (!parts) return null;
  const layers: ImageLayer[] = [NONE];
  for (const part of parts) {
    if (part.type === 'Raw') return null;
    if (part.type === 'Operator' && part.value === ',') layers.push(NONE);
    else if (part.type === 'Url') layers[layers.length - 1] = { text: generate(part), url: part.value };
    else if (part.type === 'Function' && DRAWS.test(part.name))
      layers[layers.length - 1] = { text: generate(part), url: null };
  }
  return layers;
}

const NONE: ImageLayer = { text: 'none', url: null };

function partsOf(value: string): CssNode[] | null {
  try {
    const read = parse(value, { context: 'value' });
    return read.type === 'Value' ? read.children.toArray() : null;
  } catch {
    return null;
  }
}
