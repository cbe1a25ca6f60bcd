//! Layers of touch and of sensing.

/// A set of up to 32 layers.
///
/// ```
/// use newel::Layers;
/// const GHOSTS: Layers = Layers::of(3);
/// assert!(GHOSTS.with(Layers::of(5)).meets(GHOSTS) && !Layers::FIRST.meets(GHOSTS) && Layers::ALL.meets(GHOSTS));
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Layers(pub u32);

impl Layers {
    /// None of them.
    pub const NONE: Layers = Layers(0);
    /// All of them.
    pub const ALL: Layers = Layers(u32::MAX);
    /// The one that everything is on, unless it is said to be on others.
    pub const FIRST: Layers = Layers(1);

    /// Only the layer with this number, 0 to 31; none where there is no such.
    #[must_use]
    pub const fn of(number: u8) -> Layers {
        if number < 32 { Layers(1 << number) } else { Layers::NONE }
    }

    /// These and those.
    #[must_use]
    pub const fn with(self, others: Layers) -> Layers {
        Layers(self.0 | others.0)
    }

    /// These without those.
    #[must_use]
    pub const fn without(self, others: Layers) -> Layers {
        Layers(self.0 & !others.0)
    }

    /// True where there is a layer in both.
    #[must_use]
    pub const fn meets(self, others: Layers) -> bool {
        self.0 & others.0 != 0
    }
}

/// Identity of a character to the terrain, and the layers that it touches.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Who {
    /// The game's own name for it: it does not touch what belongs to it. 0 for none.
    pub id: u64,
    /// The layers it is on: sensors that see one of them see it.
    pub on: Layers,
    /// The layers of what it touches.
    pub touches: Layers,
}

impl Default for Who {
    /// Nobody in particular, on the first layer, who touches everything.
    fn default() -> Who {
        Who { id: 0, on: Layers::FIRST, touches: Layers::ALL }
    }
}

impl Who {
    /// True where it touches what is on these layers and belongs to this one.
    #[must_use]
    pub fn meets(&self, on: Layers, owner: u64) -> bool {
        self.touches.meets(on) && (owner == 0 || owner != self.id)
    }
}
