/** A text to read, and how it is shown. */
export interface CodeProps {
  text: string;
  language: 'css' | 'html' | 'javascript' | 'diff';
  height: string;
  label: string;
}
