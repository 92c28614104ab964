import type { FontStays, SmallerFont } from '../fonts/smaller.ts';
import type { LighterImages } from '../images/lighter.ts';

/** What was made of a capture's files in fewer bytes: images written anew, and fonts with fewer signs. */
export interface LighterFiles extends LighterImages {
  fonts: SmallerFont[];
  fontsStay: { url: string; why: FontStays }[];
}
