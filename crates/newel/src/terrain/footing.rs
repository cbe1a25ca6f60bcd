//! What walking is like on a surface.

/// What a surface makes of walking on it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Footing {
    /// On every acceleration and deceleration of one's own, 0 to 10: little on ice.
    pub grip: f32,
    /// On the top speed, 0 to 10: less in mud.
    pub speed: f32,
}

impl Default for Footing {
    fn default() -> Footing {
        Footing { grip: 1.0, speed: 1.0 }
    }
}

impl Footing {
    /// The same in range: a terrain's mistake must not become the state's.
    pub(crate) fn sane(self) -> Footing {
        let sane = |x: f32| if x.is_nan() { 1.0 } else { x.clamp(0.0, 10.0) };
        Footing { grip: sane(self.grip), speed: sane(self.speed) }
    }
}

/// The footings of those surfaces that have one of their own.
#[cfg(feature = "mesh")]
#[derive(Clone, Debug, Default)]
pub(super) struct Footings(Vec<(u16, Footing)>);

#[cfg(feature = "mesh")]
impl Footings {
    pub fn set(&mut self, surface: u16, footing: Footing) {
        self.0.retain(|(known, _)| *known != surface);
        self.0.push((surface, footing));
    }

    pub fn of(&self, surface: u16) -> Option<Footing> {
        self.0.iter().find(|(known, _)| *known == surface).map(|(_, footing)| *footing)
    }
}
