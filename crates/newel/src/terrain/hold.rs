//! Hold: climbing on a surface.

/// Hold of a surface or a volume for climbing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(rename_all = "lowercase"))]
#[non_exhaustive]
pub enum Hold {
    /// Nothing to hold on to.
    #[default]
    None,
    /// A wall, a net, ivy: up, down and sideways, round corners.
    Wall,
    /// A ladder: up and down in its middle.
    Ladder,
    /// A pole or a rope: up, down, and round it.
    Pole,
}

impl Hold {
    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Hold::None => "nothing",
            Hold::Wall => "a wall",
            Hold::Ladder => "a ladder",
            Hold::Pole => "a pole",
        }
    }

    /// True where one can slide down it.
    pub(crate) fn is_slid_down(self) -> bool {
        matches!(self, Hold::Ladder | Hold::Pole)
    }
}
