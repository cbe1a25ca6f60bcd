//! A hash of states, the same on every machine and in every build.

/// Collects the bits of a state (FNV-1a by Fowler, Noll and Vo, 64 bits, a byte at a time).
#[derive(Clone, Debug)]
pub struct Fingerprint(u64);

/// Data that can be hashed with a character: implement it for the typed state of a game's own modes.
pub trait Fingerprinted {
    /// Feeds every bit that matters.
    fn feed(&self, print: &mut Fingerprint);
}

impl Fingerprinted for () {
    fn feed(&self, _print: &mut Fingerprint) {}
}

impl Default for Fingerprint {
    fn default() -> Fingerprint {
        Fingerprint::new()
    }
}

impl Fingerprint {
    /// An empty one.
    #[must_use]
    pub fn new() -> Fingerprint {
        Fingerprint(0xcbf2_9ce4_8422_2325)
    }

    /// Feeds an integer.
    pub fn u64(&mut self, value: u64) {
        for byte in value.to_le_bytes() {
            self.0 = (self.0 ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
        }
    }

    /// Feeds a double by its bits.
    pub fn f64(&mut self, value: f64) {
        self.u64(value.to_bits());
    }

    /// Feeds a single by its bits.
    pub fn f32(&mut self, value: f32) {
        self.u64(u64::from(value.to_bits()));
    }

    /// The hash of all that was fed.
    #[must_use]
    pub fn value(&self) -> u64 {
        self.0
    }
}
