// What a microphone and a meter would say of a sound, for tests of the stand-in kit.

/** The power of each frequency of a piece of sound, up to half the sample rate. @param samples as many as a power of two */
function powerOf(samples: Float32Array): Float64Array {
  const count = samples.length;
  const real = Float64Array.from(samples);
  const imaginary = new Float64Array(count);
  for (let index = 1, turned = 0; index < count; index++) {
    let bit = count >> 1;
    for (; turned & bit; bit >>= 1) turned ^= bit;
    turned ^= bit;
    if (index < turned) [real[index], real[turned]] = [real[turned]!, real[index]!];
  }
  for (let size = 2; size <= count; size <<= 1) {
    for (let start = 0; start < count; start += size) {
      for (let row = 0; row < size / 2; row++) {
        const angle = (-2 * Math.PI * row) / size;
        const [a, b] = [start + row, start + row + size / 2];
        const turnedReal = real[b]! * Math.cos(angle) - imaginary[b]! * Math.sin(angle);
        const turnedImaginary = real[b]! * Math.sin(angle) + imaginary[b]! * Math.cos(angle);
        real[b] = real[a]! - turnedReal;
        imaginary[b] = imaginary[a]! - turnedImaginary;
        real[a]! += turnedReal;
        imaginary[a]! += turnedImaginary;
      }
    }
  }
  return Float64Array.from({ length: count / 2 }, (_, row) => real[row]! ** 2 + imaginary[row]! ** 2);
}

/** How much the ear hears of a frequency, as a factor of power. @source IEC 61672-1, A-weighting */
function aWeight(hz: number): number {
  const square = hz * hz;
  const gain =
    (12194 ** 2 * square * square) /
    ((square + 20.6 ** 2) * Math.sqrt((square + 107.7 ** 2) * (square + 737.9 ** 2)) * (square + 12194 ** 2));
  return (gain * 10 ** (2 / 20)) ** 2;
}

const WINDOW = 4096;

/** Each stretch of about a tenth of a second, with the power of its frequencies. */
function windowsOf(samples: Float32Array): readonly Float64Array[] {
  const windows: Float64Array[] = [];
  for (let start = 0; start === 0 || start < samples.length - WINDOW / 2; start += WINDOW / 2) {
    const piece = new Float32Array(WINDOW);
    piece.set(samples.subarray(start, start + WINDOW));
    windows.push(powerOf(piece));
  }
  return windows;
}

/** How loud a sound is at its loudest, as the ear hears it, in dB against any other that is measured so. */
export function loudnessDb(samples: Float32Array, sampleRate: number): number {
  const powers = windowsOf(samples).map((power) =>
    power.reduce((sum, value, row) => sum + value * aWeight((row * sampleRate) / WINDOW), 0),
  );
  return 10 * Math.log10(Math.max(...powers));
}

/** The share of a sound's energy between two frequencies, 0 to 1. */
export function shareBetween(samples: Float32Array, sampleRate: number, lowHz: number, highHz: number): number {
  let [inside, all] = [0, 0];
  for (const power of windowsOf(samples)) {
    for (let row = 0; row < power.length; row++) {
      const hz = (row * sampleRate) / WINDOW;
      all += power[row]!;
      if (hz >= lowHz && hz < highHz) inside += power[row]!;
    }
  }
  return inside / all;
}
