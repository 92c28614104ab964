import type { EmbedPicture } from '../embeds/embed-picture.ts';
import type { FontStays, SmallerFont } from '../fonts/smaller.ts';
import type { LighterImages } from '../images/lighter.ts';

/** What was made of a capture's files in fewer bytes: images written anew, fonts with fewer signs, and pictures of embeds. */
export interface LighterFiles extends LighterImages {
  /** Of those that are shown. */
  embeds: EmbedPicture[];
  fonts: SmallerFont[];
  fontsStay: { url: string; why: FontStays }[];
}
