/** Drawing scales: 10 is 1:10. */
export const SCALES = [1, 2, 5, 10, 20, 50, 100] as const;

/** CSS says that an inch has 96 pixels; a calibration says what this screen really does. */
export const CSS_PX_PER_MM = 96 / 25.4;
