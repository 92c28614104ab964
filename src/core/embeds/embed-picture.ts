/** What an embed showed when the captured page was scrolled through: for what stands in its place until it is pressed. */
export interface EmbedPicture {
  /** The embed's address. */
  url: string;
  /** The hash of the document that it is of. */
  of: string;
  /** Where its bytes are, as a capture's bodies are (SHA-256, hex): a WebP. */
  bodyHash: string;
  bytes: number;
}
