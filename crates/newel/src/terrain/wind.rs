//! Wind: what a zone blows with, steadily or in gusts.

use glam::Vec3;

/// Air that moves. It carries what has `air.drag`, `ground.windage` or `hover.windage`, and nothing else.
///
/// ```
/// use newel::glam::Vec3;
/// use newel::{Gusts, Wind};
/// // A fifth of a gale from the west, and all of it for two seconds in every five.
/// let gusts = Gusts { every: 5.0, lasts: 2.0, swells: 0.5, lull: 0.2, since: 0.0 };
/// let gale = Wind::steady(Vec3::X * 20.0).in_gusts(gusts);
/// assert_eq!(gale.at(4.5), Vec3::X * 4.0);
/// assert_eq!(gale.at(1.0), Vec3::X * 20.0);
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Wind {
    /// Metres per second in the world, at its strongest; at most 300.
    pub velocity: Vec3,
    /// How it comes and goes; steady if `None`.
    pub gusts: Option<Gusts>,
}

/// How a wind comes and goes, over and over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Gusts {
    /// Seconds from the beginning of one gust to that of the next; not 0.
    pub every: f64,
    /// How long a gust lasts, seconds, its swelling and dying down included.
    pub lasts: f64,
    /// How long it takes to swell, and again to die down, seconds; at most half of `lasts` counts.
    pub swells: f64,
    /// Factor on the wind between gusts, 0 to 1.
    pub lull: f32,
    /// Seconds since the beginning of a gust when the tick asking begins. A [`Scene`](crate::Scene) adds its own time to that.
    pub since: f64,
}

/// The fastest wind, m/s: what a character can remember.
pub(crate) const MOST_WIND: f32 = 300.0;

impl Wind {
    /// Always the same, in m/s.
    #[must_use]
    pub fn steady(velocity: Vec3) -> Wind {
        Wind { velocity, gusts: None }
    }

    /// The same coming and going.
    #[must_use]
    pub fn in_gusts(self, gusts: Gusts) -> Wind {
        Wind { gusts: Some(gusts), ..self }
    }

    /// How it blows `t` seconds into the tick, m/s.
    #[must_use]
    pub fn at(&self, t: f64) -> Vec3 {
        self.velocity * self.gusts.map_or(1.0, |gusts| gusts.strength(t))
    }
}

impl Gusts {
    /// Factor on the wind `t` seconds into the tick: it swells and dies down at a constant rate.
    #[must_use]
    pub fn strength(&self, t: f64) -> f32 {
        let into = (self.since + t) - ((self.since + t) / self.every).floor() * self.every;
        let edge = into.min(self.lasts - into);
        let part = match edge {
            edge if edge <= 0.0 => 0.0,
            edge if edge >= self.swells => 1.0,
            edge => edge / self.swells,
        };
        self.lull + (1.0 - self.lull) * part as f32
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn gusts_swell_blow_die_down_and_come_again() {
        let gusts = Gusts { every: 4.0, lasts: 2.0, swells: 0.5, lull: 0.25, since: -1.0 };
        let steps = [(1.0, 0.25), (1.25, 0.625), (1.5, 1.0), (2.5, 1.0), (2.75, 0.625), (3.0, 0.25), (4.9, 0.25)];
        for (time, strength) in steps {
            for again in [-4.0, 0.0, 4.0, 400.0] {
                assert!((gusts.strength(time + again) - strength).abs() < 1e-5, "{time} {again}");
            }
        }
        let sharp = Gusts { swells: 0.0, ..gusts };
        assert_eq!([sharp.strength(1.001), sharp.strength(3.001)], [1.0, 0.25]);
    }
}
