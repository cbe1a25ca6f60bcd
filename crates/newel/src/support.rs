//! Ground and support.

use glam::{DVec3, Vec3};

/// Why the ground carries the character, or does not.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Support {
    /// Nothing underfoot.
    #[default]
    None,
    /// A walkable face.
    Firm,
    /// An edge or a round top, with enough of the foot on it or a step's height below.
    Edge,
    /// Surfaces too steep one by one that hold the character up between them.
    Wedge,
    /// Too much of the foot is over a drop.
    Slipping,
    /// The surface is steeper than the tuned limit.
    TooSteep,
    /// Held on to by its hands.
    Held,
    /// Water that it swims in; the point and normal are those of the surface.
    Water,
}

impl Support {
    /// True where it carries the character.
    #[must_use]
    pub fn is_firm(self) -> bool {
        matches!(self, Support::Firm | Support::Edge | Support::Wedge)
    }

    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Support::None => "nothing underfoot",
            Support::Firm => "firm",
            Support::Edge => "firm on an edge",
            Support::Wedge => "held between steep faces",
            Support::Slipping => "too much of the foot over a drop",
            Support::TooSteep => "too steep",
            Support::Held => "held on to",
            Support::Water => "water",
        }
    }
}

/// Ground underfoot, or the hold of the hands, and its support.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Ground {
    /// Where it is touched, in the world, metres.
    pub point: DVec3,
    /// Unit normal of the surface walked on; zero where there is none.
    pub normal: Vec3,
    /// The game's own number of what it is made of.
    pub surface: u16,
    /// Why it carries or does not.
    pub support: Support,
    /// The game's own name of the body it belongs to; 0 is the world.
    pub body: u64,
}

/// The same as a character keeps it: the place is told from its feet.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Underfoot {
    /// From its feet to where the ground is touched, metres.
    pub touch: Vec3,
    /// Unit normal of the surface walked on; zero where there is none.
    pub normal: Vec3,
    /// The game's own number of what it is made of.
    pub surface: u16,
    /// Why it carries or does not.
    pub support: Support,
    /// The two halves of a name, which need no room beside three singles.
    body: [u32; 2],
}

impl Underfoot {
    /// The game's own name of the body it belongs to; 0 is the world.
    #[must_use]
    pub fn body(&self) -> u64 {
        u64::from(self.body[0]) | u64::from(self.body[1]) << 32
    }

    /// The ground relative to feet at `position`.
    pub(crate) fn of(ground: &Ground, position: DVec3) -> Underfoot {
        let Ground { point, normal, surface, support, body } = *ground;
        let touch = if support == Support::None { Vec3::ZERO } else { (point - position).as_vec3() };
        Underfoot { touch, normal, surface, support, body: [body as u32, (body >> 32) as u32] }
    }

    /// The ground itself, as seen from feet at `position`.
    #[must_use]
    pub fn ground(&self, position: DVec3) -> Ground {
        let Underfoot { touch, normal, surface, support, .. } = *self;
        let point = if support == Support::None { DVec3::ZERO } else { position + touch.as_dvec3() };
        Ground { point, normal, surface, support, body: self.body() }
    }
}
