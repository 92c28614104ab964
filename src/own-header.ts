/** What our own pages say when they change something: no form and no picture of anybody's can. */
export const OWN_HEADER = 'x-wistrel';
