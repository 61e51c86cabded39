/** What a picture is drawn from. */
export interface Pictured {
  readonly name: string;
  readonly sha256: string;
  /** What belongs to it; `#1`, `#2`: where a row is in it, as shares of width and height, "0.25 0.5". */
  /**
   * `#spot …`: a place of many alike as "x y r pass|fail|not-judged words"; `#ring …`: a circle as "x y r"; `#box …`:
   * a finding as "x0 y0 x1 y1 bad|free words"; all as shares of the width.
   */
  readonly facts: Readonly<Record<string, string>>;
}
