// The small proof of work that a form can ask for: a number that, hashed with what the host gave,
// begins with so many zero bits. SHA-256 as in FIPS 180-4, since pages without TLS have no other.
const needleWork = (() => {
  const primes = [];
  for (let n = 2; primes.length < 64; n++) if (primes.every((p) => n % p)) primes.push(n);
  const part = (x) => ((x - Math.floor(x)) * 2 ** 32) | 0;
  const k = primes.map((p) => part(Math.cbrt(p)));
  const h0 = primes.slice(0, 8).map((p) => part(Math.sqrt(p)));
  const turn = (x, n) => (x >>> n) | (x << (32 - n));
  const sha256 = (words) => {
    const bytes = new TextEncoder().encode(words);
    const size = ((bytes.length + 8) >> 6) + 1 << 4;
    const block = new Int32Array(size);
    bytes.forEach((byte, i) => { block[i >> 2] |= byte << (24 - (i & 3) * 8); });
    block[bytes.length >> 2] |= 0x80 << (24 - (bytes.length & 3) * 8);
    block[size - 1] = bytes.length * 8;
    const h = [...h0];
    const w = new Int32Array(64);
    for (let at = 0; at < size; at += 16) {
      let [a, b, c, d, e, f, g, i] = h;
      for (let t = 0; t < 64; t++) {
        if (t < 16) w[t] = block[at + t];
        else {
          const x = w[t - 15];
          const y = w[t - 2];
          w[t] = (w[t - 16] + (turn(x, 7) ^ turn(x, 18) ^ (x >>> 3)) + w[t - 7]
            + (turn(y, 17) ^ turn(y, 19) ^ (y >>> 10))) | 0;
        }
        const one = (i + (turn(e, 6) ^ turn(e, 11) ^ turn(e, 25)) + ((e & f) ^ (~e & g)) + k[t] + w[t]) | 0;
        const two = ((turn(a, 2) ^ turn(a, 13) ^ turn(a, 22)) + ((a & b) ^ (a & c) ^ (b & c))) | 0;
        i = g; g = f; f = e; e = (d + one) | 0; d = c; c = b; b = a; a = (one + two) | 0;
      }
      [a, b, c, d, e, f, g, i].forEach((x, n) => { h[n] = (h[n] + x) | 0; });
    }
    return h;
  };
  return (given, bits) => {
    for (let n = 0; ; n++) if (Math.clz32(sha256(`${given}:${n}`)[0]) >= bits) return String(n);
  };
})();
