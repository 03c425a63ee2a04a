import type { InsertKindName } from './insert-kinds'

/** What each kind of insert computes, for `docs/inserts.md`. One paragraph a line. */
export const INSERT_DEFINITIONS: Readonly<Record<InsertKindName, readonly string[]>> = {
  gain: [
    '`10^((gain + side)/20)` with the gain of each side, then its polarity, then the sides swapped, then DC taken out by a filter of first order at 5 Hz (bilinear). A switch that a lane moves blends over the step of 1 ms. A mono sound stays mono unless a value of one side is set.',
  ],
  equaliser: [
    'Eight bands, one after the other; bands that are off, and bells and shelves of 0 dB without a lane, are not there. With ω = 1 at the frequency and A = 10^(gain/40): bell `(s² + sA/Q + 1)/(s² + s/(AQ) + 1)`; low shelf `A(s² + s√A/Q + A)/(As² + s√A/Q + 1)`; high shelf `A(As² + s√A/Q + 1)/(s² + s√A/Q + A)`; notch `(s² + 1)/(s² + s/Q + 1)`; cuts Butterworth of order slope/6. A high shelf of more than 18 dB whose frequency or Q moves by more than half an octave within 4 ms is mixed down to 0.4 of what it does for 30 ms, and is whole again 80 ms after it.',
    'Poles are those of the prototype by impulse invariance, and the numerator meets its magnitude at 0, at the frequency (at most 0.1875 of the rate) and at 0.3125 of the rate (after M. Vicanek, Matched second order digital filters, 2016). Cutting bells and low shelves and boosting high shelves are the inverses of their opposites. Notches and low cuts have the zeros of the prototype, and their denominators meet it. At 48 kHz, up to a third of the rate: bells of Q 0.3 to 10 and shelves up to Q 1, ±18 dB, within 0.1 dB; notches within 0.1 dB where above -40 dB; cuts within 0.15 dB where above -60 dB. Frequencies above 0.45 of the rate act as that.',
    'Every section is a state-variable filter (V. Zavalishin, The art of VA filter design, ch. 4). Values that move are computed every 16 frames and run straight in between, which cannot become unstable. While a band is switched, its output goes over to its input within 60 ms, and steps in its lanes take as long: a filter that jumps would click. On a mono sound a band of the mid is one of the whole, one of the side does nothing, and one of the left or right makes it stereo.',
  ],
  compressor: [
    'Level: the largest sample of all channels over the last 5 ms, or (`rms`) the largest mean square of a channel over the last 10 ms; the detector cut is a low cut of 12 dB an octave on what is heard. Asked for: with `over = level - threshold`, 0 up to `over = -knee/2`, `(1 - 1/ratio)·(over + knee/2)²/(2·knee)` up to `knee/2`, `(1 - 1/ratio)·over` beyond, at most the limit (D. Giannoulis, M. Massberg, J. D. Reiss, JAES 60(6), 2012). Followed: `r += (1 - e^(-1/(τ·fs)))·(asked - r)` a frame, with attack for τ where more is asked, else release. A knee under 0.001 dB is as wide. The gain is `10^((make-up - r)/20)`; `out = (1 - mix)·dry + mix·wet`.',
    'With look-ahead the level is that of so much later; the latency is rounded up to 64 frames.',
  ],
  gate: [
    'Level: the largest sample of all channels over the last 5 ms. It opens where the level reaches the threshold, and closes when it has been under `threshold - hysteresis` for as long as the hold. While it is closed, a level under the threshold is turned down by `(threshold - level)·(ratio - 1)`, at most by the range. The reduction is followed as that of the compressor: it falls with attack and rises with release.',
  ],
  'de-esser': [
    'A Linkwitz–Riley crossover of fourth order (two Butterworth filters of second order, bilinear) divides the sound; the upper part is turned down as by the compressor with `peak` and no knee, at most by the limit, and both are added again.',
  ],
  'four-bands': [
    'Three Linkwitz–Riley crossovers of fourth order; each band passes the all-passes of the crossovers that do not bound it, so that all add up to the product of the three all-passes. Each band is compressed as by the compressor with `peak`. Crossovers rise from the first to the third.',
  ],
  saturator: [
    'At eight times the rate (half-bands of 75, 19 and 11 taps whose largest error is least: -101, -96 and -97 dB), with g = 10^(drive/20): soft `tanh(gx)`, hard `clamp(gx, -1, 1)`, asymmetric `tanh(gx + 0.3) - tanh(0.3)`, each sample the mean of the curve over the steps to it and from it, weighted by a triangle (second-order antiderivative anti-aliasing: S. Bilbao, F. Esqueda, J. D. Parker, V. Välimäki, IEEE SPL 24(7), 2017); short steps by cubics, longer ones by Gauss’s quadrature, the longest by the integrals of tanh; all of it in 32 bits. Three taps make up for its droop. Asymmetric: a low cut of first order at 5 Hz takes DC out. Then `(1 - mix)·dry + mix·wet` with the dry sound only late, so that a mix of 0 is the sound that came in, to the bit; the output gain is of both. It is 64 frames late. Dry and wet line up within -80 dB up to 15 kHz; at 24 dB of drive what is no overtone of a tone of 1 to 10 kHz stays under -85 dB below 20 kHz.',
  ],
  delay: [
    'A time in ms or a note value (quarter notes at the tempo of the place), rounded to frames; a note value may come to 16 s, and a file in which one comes to more is refused. `out = (1 - mix)·dry + mix·wet`; what goes into the line is the dry sound and `feedback` times the wet one. A low and a high cut of first order (bilinear) lie behind the line, so every repeat passes them, the first too; 0 and 20 kHz are off, and from 18 kHz on the high cut fades out. From side to side, the mean of both sides goes into the left line, whose echo goes into the right one. The time is looked up every 50 ms (rounded to 16 frames, at multiples of that from frame 0), and over the next 50 ms the sound crosses over linearly from the tap before to that one. Lines are 32-bit.',
  ],
  room: [
    'What comes in is spread: each of sixteen channels takes a tap of both sides within the first 14 ms, a Hadamard matrix mixes them, and each is held for up to 48 ms (both times `0.76 + 0.48·size`). That is the early sound (heard at 0.76 of its level, as loud as what follows), and goes into a feedback delay network (J.-M. Jot, A. Chaigne, AES 90th Convention, 1991): sixteen lines of 60 to 150 ms, times `0.8 + 0.4·size`, whose ends the same matrix mixes. Whatever is heard t seconds after it came in has lost `60·t/decay` dB at 1 kHz, by whichever way it came.',
    'In each line a low pass of first order makes sound at the damping die twice as fast as low sound (low sound sounds on for four times the decay at most; from 18 kHz on the damping fades out, and at 20 kHz it is off), and a low cut of first order keeps 0 Hz out: at 10 Hz for a line of 50 ms, in proportion to the root of its length for others. Half of the lines are heard as mid, half as side. The side passes a low cut of 24 dB an octave at 250 Hz, so that low sound is the same on both sides; the mid a low shelf of 4.5 dB there, which makes up for that, and a low cut of 12 dB an octave at 20 Hz. Stereo comes out. All of it is in 32 bits. A new size or pre-delay is gone over to within the next block.',
  ],
  width: [
    'Mid `(L + R)/2` stays, side `(L - R)/2` is multiplied by the width; below `monoBelowHz` the side passes a low cut of 12 dB an octave. Stereo comes out.',
  ],
  transients: [
    'Three envelopes follow the squared larger side with time constants of 1, 30 and 300 ms, plus a floor of -120 dBFS. By how much the first is above the second decides the part of the attack that is added, by how much the third is above the second that of the sustain: none up to 3 dB, all from 12 dB on, in proportion between.',
  ],
  ceiling: [
    'The peak of a frame is the largest size of the signal from the sample before it to the one after it, on any channel: 8 points a sample by a sinc of 128 taps (Kaiser, β = 5), and a parabola through the three around each maximum; 0.4 of what lies above 0.465 of the rate around it is added, for near half the rate meters begin to differ; and none is less than what the true-peak meter finds. The gain that it asks for, `min(1, ceiling/peak)`, in dB: the largest reduction over the look-ahead, released by `r - r·(1 - e^(-1/(τ·fs)))` a frame; its gain is averaged over the look-ahead again. By meters of 16 points a sample that are flat to 0.95 of half the rate, no sound comes out more than 0.1 dB over it, white and clipped ones included. Below the ceiling the sound is unchanged, to the bit.',
  ],
}
