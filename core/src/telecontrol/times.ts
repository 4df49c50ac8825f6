/** Times and windows of IEC 60870-5-104 (clause 9.6), with what the standard proposes. */
export interface Times104 {
  /** How long is waited for a receipt, or for the answer to a service. */
  t1Ms: number;
  /** After how long at latest a receipt goes out. */
  t2Ms: number;
  /** After how long without any frame it is asked whether the other side is there. */
  t3Ms: number;
  /** How many numbered frames may be on their way without a receipt. */
  k: number;
  /** After how many of them a receipt goes out at latest. */
  w: number;
}
export const usualTimes: Times104 = { t1Ms: 15_000, t2Ms: 10_000, t3Ms: 20_000, k: 12, w: 8 };

/** What is wrong with times that contradict each other; empty where they do not. */
export function timesProblems({ t1Ms, t2Ms, t3Ms, k, w }: Times104): string[] {
  return [
    ...(t2Ms >= t1Ms ? [`t2 (${t2Ms} ms) has to be shorter than t1 (${t1Ms} ms): the other side gives up before a receipt comes.`] : []),
    ...(t3Ms <= t1Ms ? [`t3 (${t3Ms} ms) should be longer than t1 (${t1Ms} ms), or tests overtake each other.`] : []),
    ...(w > (2 * k) / 3 ? [`w (${w}) should be at most two thirds of k (${k}), or the other side stands still until t2.`] : []),
  ];
}
