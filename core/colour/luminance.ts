/** Luminance weights of Rec. 709 primaries (ITU-R BT.709-6, item 3.2: 0.2126, 0.7152, 0.0722). */
export const weights = { r: 0.2126, g: 0.7152, b: 0.0722 } as const;

/** Luminance of linear RGB, in the same units as the colour. */
export const luminance = (r: number, g: number, b: number) => weights.r * r + weights.g * g + weights.b * b;

/** The luminance of mid-grey, the zero of the scale in stops. Common practice: 18 % reflectance. */
export const midGrey = 0.18;

/** Light as stops above (or below) mid-grey. */
export const toStops = (light: number) => Math.log2(light / midGrey);
export const fromStops = (stops: number) => midGrey * 2 ** stops;
