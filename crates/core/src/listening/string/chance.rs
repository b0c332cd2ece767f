//! Numbers that look like chance and are the same for the same seed.

/// The generator `SplitMix64` (Steele, Lea, Flood, "Fast splittable pseudorandom number generators", 2014).
#[derive(Clone, Debug)]
pub(in crate::listening) struct Chance(u64);

impl Chance {
    pub(in crate::listening) const fn new(seed: u64) -> Self {
        Self(seed)
    }

    fn bits(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    /// Evenly from 0 up to 1.
    pub(in crate::listening) fn share(&mut self) -> f64 {
        // 53 bits are what an f64 holds.
        (self.bits() >> 11) as f64 / (1_u64 << 53) as f64
    }

    /// Evenly from `low` up to `high`.
    pub(super) fn between(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.share()
    }

    /// White noise from -1 to 1.
    pub(super) fn noise(&mut self) -> f64 {
        self.between(-1.0, 1.0)
    }
}
