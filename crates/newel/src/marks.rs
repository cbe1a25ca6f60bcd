//! Flags of a character.

/// Flags of a character, in two bytes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Marks(pub(crate) u16);

const CLINGS: u16 = 1;
const ON_PAD: u16 = 2;
const REVERSING: u16 = 4;
const SPRINTING: u16 = 8;
const MOVING: u16 = 16;
const DRAWN: u16 = 32;
const EAGER: u16 = 64;
const UNDER: u16 = 128;
const TURNING: u16 = 256;

impl Marks {
    /// True where it is pulled toward whatever it stands on, as strongly as its own gravity pulls elsewhere.
    #[must_use]
    pub fn clings(self) -> bool {
        self.0 & CLINGS != 0
    }

    /// True where it is pulled toward whatever it stands on, by itself or by a zone: it walks round edges and up walls.
    #[must_use]
    pub fn adheres(self) -> bool {
        self.0 & (CLINGS | DRAWN) != 0
    }

    /// True in a zone that throws whoever comes in.
    #[must_use]
    pub fn on_pad(self) -> bool {
        self.0 & ON_PAD != 0
    }

    /// True while it runs against its heading.
    #[must_use]
    pub fn reversing(self) -> bool {
        self.0 & REVERSING != 0
    }

    /// True in a sprint.
    #[must_use]
    pub fn sprinting(self) -> bool {
        self.0 & SPRINTING != 0
    }

    /// True from when it went faster than `gait.moving` until it is slower than `gait.still`.
    #[must_use]
    pub fn moving(self) -> bool {
        self.0 & MOVING != 0
    }

    /// True where a heading that leads into the ledge it hangs from pulls up: it has led elsewhere since it was caught.
    #[must_use]
    pub fn may_pull_up(self) -> bool {
        self.0 & EAGER != 0
    }

    /// True while its eyes are under water.
    #[must_use]
    pub fn under_water(self) -> bool {
        self.0 & UNDER != 0
    }

    /// True from when its body has been far from upright until it is upright again.
    #[must_use]
    pub fn turning_over(self) -> bool {
        self.0 & TURNING != 0
    }

    pub(crate) fn set_turning_over(&mut self, so: bool) {
        self.set(TURNING, so);
    }

    pub(crate) fn set_under_water(&mut self, so: bool) {
        self.set(UNDER, so);
    }

    pub(crate) fn set_may_pull_up(&mut self, so: bool) {
        self.set(EAGER, so);
    }

    pub(crate) fn set_sprinting(&mut self, so: bool) {
        self.set(SPRINTING, so);
    }

    pub(crate) fn set_moving(&mut self, so: bool) {
        self.set(MOVING, so);
    }

    pub(crate) fn set_clings(&mut self, so: bool) {
        self.set(CLINGS, so);
    }

    pub(crate) fn set_drawn(&mut self, so: bool) {
        self.set(DRAWN, so);
    }

    pub(crate) fn set_on_pad(&mut self, so: bool) {
        self.set(ON_PAD, so);
    }

    pub(crate) fn set_reversing(&mut self, so: bool) {
        self.set(REVERSING, so);
    }

    fn set(&mut self, mark: u16, so: bool) {
        self.0 = if so { self.0 | mark } else { self.0 & !mark };
    }
}
