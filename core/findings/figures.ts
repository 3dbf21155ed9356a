/** A share in percent, with one digit more where it is small. */
export const finePercent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** A share in whole percent. */
export const percent = (share: number) => `${Math.round(share * 100)} %`;

/** A sample's value. */
export const figure = (value: number) =>
  Math.abs(value) >= 1000 ? value.toExponential(1) : value.toFixed(2);
