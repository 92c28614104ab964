/**
 * Paths for the files of a treated page, below one folder: none leads out of it, and no two are the same, also where
 * case does not tell files apart.
 */
export class FileNames {
  #taken: Set<string>;
  #ownHost: string | null;

  /**
   * @param reserved paths that are for something else
   * @param ownHost whose files stand at the top; those of others, or of all where it is null, under their host's name
   */
  constructor(reserved: readonly string[], ownHost: string | null = null) {
    this.#taken = new Set(reserved);
    this.#ownHost = ownHost;
  }

  /** The path of an address's file: that of its address as far as it can be one, numbered where another has it. */
  of(url: string): string {
    const { host, pathname } = new URL(url);
    const parts = decoded(pathname)
      .split(/[/\\]/)
      .map((part) => part.replace(/[^\w.-]+/g, '-'))
      .filter((part) => part !== '' && !/^\.+$/.test(part));
    const folder = host === this.#ownHost ? [] : [host.replace(/[^\w.-]+/g, '_')];
    return this.#free([...folder, ...(parts.length ? parts : ['index'])].join('/'));
  }

  #free(name: string): string {
    let free = name;
    for (let number = 2; this.#taken.has(free.toLowerCase()); number++)
      free = name.replace(/(\.[^./]*)?$/, `-${number}$1`);
    this.#taken.add(free.toLowerCase());
    return free;
  }
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
