import type { StringView } from '../api/client';

/** The drawing of the four strings, in units of its own box. */
export const BOX = { width: 64, height: 72 } as const;
export const NUT = { y: 13, left: 4, right: 60, thickness: 3.2 } as const;
/** The shallow curve below: highest in the middle. */
export const BRIDGE = { left: 2, right: 62, y: 68, rise: 4 } as const;
const STRING_X = [11, 25, 39, 53] as const;
const STRING_THICKNESS = [1.7, 1.4, 1.1, 0.8] as const;
/** Even a low glow is visible: at least this long. */
const SHORTEST = 11;
const HALF_WIDTH = 5.4;

export interface DrawnString {
  x: number;
  thickness: number;
  /** Where the string meets the bridge. */
  foot: number;
  /** The spindle of a ringing string, from the bridge upwards; absent while nobody has looked. */
  spindle?: string;
  /** The stroke across its middle, where a look is late. */
  across?: string;
}

/** The bridge's height at `x`: a parabola through both ends and the middle. */
function bridgeAt(x: number): number {
  const middle = (BRIDGE.left + BRIDGE.right) / 2;
  const across = (x - middle) / (BRIDGE.right - middle);
  return BRIDGE.y - BRIDGE.rise * (1 - across * across);
}

export const BRIDGE_PATH = `M${BRIDGE.left} ${BRIDGE.y}Q${(BRIDGE.left + BRIDGE.right) / 2} ${BRIDGE.y - 2 * BRIDGE.rise} ${BRIDGE.right} ${BRIDGE.y}`;

/** A string as it is drawn; one that is looked at alone is `wide`. */
export function drawString(index: number, { glow, seen }: StringView, wide = false): DrawnString {
  const x = STRING_X[index] ?? 0;
  const foot = bridgeAt(x);
  const drawn = { x, thickness: STRING_THICKNESS[index] ?? 1, foot };
  if (!seen) return drawn;
  const length = Math.max(SHORTEST, (foot - NUT.y - NUT.thickness) * Math.min(1, glow));
  const half = Math.min(HALF_WIDTH, 2 + length / 9) * (wide ? 1.9 : 1);
  const [top, lower, upper] = [foot - length, foot - length * 0.3, foot - length * 0.7];
  const at = (px: number, py: number) => `${round(px)} ${round(py)}`;
  // Two gentle bellies: fullest in the middle, closing at both ends.
  const right = `C${at(x + half, lower)} ${at(x + half, upper)} ${at(x, top)}`;
  const left = `C${at(x - half, upper)} ${at(x - half, lower)} ${at(x, foot)}`;
  const across = `M${round(x - half - 1.5)} ${round(foot - length / 2)}h${round(2 * half + 3)}`;
  return { ...drawn, spindle: `M${at(x, foot)}${right}${left}Z`, across };
}

function round(number: number): number {
  return Math.round(number * 100) / 100;
}
