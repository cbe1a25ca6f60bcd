//! Footing: walking on a surface.

/// Effect of a surface on walking.
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

/// Properties by surface, for surfaces that have any.
#[derive(Clone, Debug)]
pub(crate) struct Said<T>(Vec<(u16, T)>);

impl<T> Default for Said<T> {
    fn default() -> Said<T> {
        Said(Vec::new())
    }
}

impl<T: Copy> Said<T> {
    pub fn set(&mut self, surface: u16, said: T) {
        self.0.retain(|(known, _)| *known != surface);
        self.0.push((surface, said));
    }

    pub fn of(&self, surface: u16) -> Option<T> {
        self.0.iter().find(|(known, _)| *known == surface).map(|(_, said)| *said)
    }
}
