/** What stands beside the curve, px: frames above it are placed by the same. */
export const LEFT = 44;
export const RIGHT = 70;
