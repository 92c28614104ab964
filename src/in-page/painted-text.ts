import type { PaintedFace } from '../core/fonts/faces.ts';

/** Collects, of elements, which characters are painted in which faces. */
export class PaintedText {
  #faces = new Map<string, Omit<PaintedFace, 'characters'> & { characters: Set<string> }>();

  add(element: Element): void {
    const style = getComputedStyle(element);
    for (const node of element.childNodes)
      if (node.nodeType === Node.TEXT_NODE) this.#addText(style, node.nodeValue ?? '');
    if (element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement)
      this.#addText(style, `${element.value}${element.placeholder}`);
    for (const pseudo of ['::before', '::after', '::marker']) {
      const generated = getComputedStyle(element, pseudo);
      if (generated.content && generated.content !== 'none' && generated.content !== 'normal')
        this.#addText(generated, generated.content + '0123456789•');
    }
  }

  #addText(style: CSSStyleDeclaration, text: string): void {
    const characters = new Set(text.replace(/\s+/g, ''));
    if (characters.size === 0) return;
    const key = `${style.fontFamily}|${style.fontWeight}|${style.fontStyle}`;
    let face = this.#faces.get(key);
    if (!face) {
      const families = style.fontFamily.split(',').map(plainFamily);
      this.#faces.set(
        key,
        (face = {
          families,
          weight: Number(style.fontWeight) || 400,
          italic: style.fontStyle !== 'normal',
          characters: new Set(),
        }),
      );
    }
    for (const character of characters) {
      face.characters.add(character);
      // text-transform paints other letters than the source holds.
      face.characters.add(character.toUpperCase());
      face.characters.add(character.toLowerCase());
    }
  }

  get faces(): PaintedFace[] {
    return [...this.#faces.values()].map((face) => ({ ...face, characters: [...face.characters].join('') }));
  }
}

/** The texts of a document, hidden ones too, by the faces that they ask for. */
export function paintedFaces(): PaintedFace[] {
  const text = new PaintedText();
  const look = (root: ParentNode) => {
    for (const element of root.querySelectorAll('*')) {
      text.add(element);
      if (element.shadowRoot) look(element.shadowRoot);
    }
  };
  look(document);
  return text.faces;
}

function plainFamily(name: string): string {
  return name
    .trim()
    .replace(/^["']|["']$/g, '')
    .toLowerCase();
}
