import type { Plugin } from 'prettier';

export type FormattedLanguage = 'css' | 'javascript' | 'html';

/** Which parser of the formatter reads a language, and what of it has to be loaded. */
const READERS: Record<FormattedLanguage, { parser: string; plugins: () => Promise<Plugin[]> }> = {
  css: { parser: 'css', plugins: async () => [await import('prettier/plugins/postcss')] },
  javascript: {
    parser: 'babel',
    plugins: async () => [
      await import('prettier/plugins/babel'),
      (await import('prettier/plugins/estree')) as Plugin,
    ],
  },
  html: { parser: 'html', plugins: async () => [await import('prettier/plugins/html')] },
};

/** Lays code out to be read, one statement or declaration a line. @throws where it cannot be parsed */
export async function formatCode(text: string, language: FormattedLanguage): Promise<string> {
  const { parser, plugins } = READERS[language];
  const { format } = await import('prettier/standalone');
  return format(text, {
    parser,
    plugins: await plugins(),
    printWidth: 80,
    // Scripts and styles within a page stay as they are: each would need a parser of its own.
    embeddedLanguageFormatting: 'off',
  });
}
