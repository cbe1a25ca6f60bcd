//! Water: where its surface is, how it waves, and which way it flows.

use glam::{DVec3, Vec3};

/// Water that fills a zone, up to a surface.
///
/// ```
/// use newel::glam::{DVec3, Vec3};
/// use newel::{Effect, Swell, Water, Zone};
/// // A basin that is full to half a metre under its rim, with a swell from the south and a slow drift to the east.
/// let swell = Swell { along: Vec3::NEG_Z, height: 0.3, length: 12.0, period: 3.0, since: 0.0 };
/// let water = Water::flat(DVec3::Y * 2.5, Vec3::Y).flowing(Vec3::X * 0.2).with_swell(swell);
/// let basin = Zone::new(4, DVec3::ZERO, DVec3::new(9.0, 3.0, 9.0), Effect::Water(water));
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Water {
    /// Where it ends upward.
    pub surface: WaterSurface,
    /// How that waves.
    pub waves: Waves,
    /// How it flows, m/s; at most 300.
    pub current: Vec3,
}

/// Where water ends upward.
#[derive(Clone, Copy, Debug, PartialEq)]
#[non_exhaustive]
pub enum WaterSurface {
    /// At a level.
    Flat {
        /// A point of the surface, metres.
        through: DVec3,
        /// Unit vector out of the water.
        up: Vec3,
    },
    /// Round a middle: the sea of a planet.
    Round {
        /// The middle of the planet, metres.
        middle: DVec3,
        /// How far from there the surface is, metres.
        radius: f64,
    },
    /// Only at the zone's own border.
    Border,
}

/// How a surface waves.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[non_exhaustive]
pub enum Waves {
    /// Not at all.
    #[default]
    None,
    /// In long-crested swells, which add up.
    Swells([Option<Swell>; Waves::MOST_SWELLS]),
    /// As the terrain says, in [`Terrain::wave`](crate::Terrain::wave): any function of place and time.
    Own,
}

/// Long-crested waves that all come from one side.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Swell {
    /// Unit vector: which way they travel.
    pub along: Vec3,
    /// From trough to crest, metres.
    pub height: f32,
    /// From crest to crest, metres; not 0.
    pub length: f32,
    /// Seconds from crest to crest where one floats; not 0.
    pub period: f32,
    /// Seconds since one rose through the level at the zone's origin when the tick asking begins. A [`Scene`](crate::Scene) adds its
    /// own time to that.
    pub since: f64,
}

/// The fastest current, m/s: what a character can remember.
pub(crate) const MOST_CURRENT: f32 = 300.0;

impl Waves {
    /// How many swells there can be.
    pub const MOST_SWELLS: usize = 4;
}

impl Water {
    /// Still water up to the level through a point, `up` being a unit vector out of it.
    #[must_use]
    pub fn flat(through: DVec3, up: Vec3) -> Water {
        Water::up_to(WaterSurface::Flat { through, up })
    }

    /// Still water up to any surface.
    #[must_use]
    pub fn up_to(surface: WaterSurface) -> Water {
        Water { surface, waves: Waves::None, current: Vec3::ZERO }
    }

    /// The same with a current, m/s.
    #[must_use]
    pub fn flowing(self, current: Vec3) -> Water {
        Water { current, ..self }
    }

    /// The same with one more swell; beyond the fourth nothing is added.
    #[must_use]
    pub fn with_swell(self, swell: Swell) -> Water {
        let mut swells = if let Waves::Swells(swells) = self.waves { swells } else { Default::default() };
        if let Some(free) = swells.iter_mut().find(|s| s.is_none()) {
            *free = Some(swell);
        }
        Water { waves: Waves::Swells(swells), ..self }
    }

    /// The same with waves that the terrain tells, in [`Terrain::wave`](crate::Terrain::wave).
    #[must_use]
    pub fn with_own_waves(self) -> Water {
        Water { waves: Waves::Own, ..self }
    }
}

impl Swell {
    /// How high over the level the surface is at `place`, `t` seconds into the tick, metres.
    #[must_use]
    pub fn lift(&self, place: DVec3, t: f64) -> f64 {
        let turns =
            (self.since + t) / f64::from(self.period) - place.dot(self.along.as_dvec3()) / f64::from(self.length);
        let turns = turns - turns.floor();
        0.5 * f64::from(self.height) * libm::sin(core::f64::consts::TAU * turns)
    }
}

impl WaterSurface {
    /// The part of the line `from + up * x` that is under the surface, as the least and the greatest `x`, where it is lifted by `lift`
    /// metres; the greater first where there is none.
    pub(crate) fn under(&self, from: DVec3, up: DVec3, lift: f64) -> (f64, f64) {
        const ALL: (f64, f64) = (f64::NEG_INFINITY, f64::INFINITY);
        const NONE: (f64, f64) = (f64::INFINITY, f64::NEG_INFINITY);
        match *self {
            WaterSurface::Border => ALL,
            WaterSurface::Flat { through, up: out } => {
                let out = out.as_dvec3();
                let (below, rise) = ((through - from).dot(out) + lift, up.dot(out));
                match rise {
                    rise if rise.abs() < 1e-6 => {
                        if below >= 0.0 {
                            ALL
                        } else {
                            NONE
                        }
                    }
                    rise if rise > 0.0 => (f64::NEG_INFINITY, below / rise),
                    rise => (below / rise, f64::INFINITY),
                }
            }
            WaterSurface::Round { middle, radius } => {
                let to = middle - from;
                let (along, radius) = (to.dot(up), radius + lift);
                let square = radius * radius - (to.length_squared() - along * along);
                if square < 0.0 { NONE } else { (along - square.sqrt(), along + square.sqrt()) }
            }
        }
    }

    /// False where a number of it makes no sense: then there is no water. A terrain's mistake must not become the state's.
    pub(crate) fn is_sane(&self) -> bool {
        match *self {
            WaterSurface::Flat { through, up } => through.is_finite() && (up.length_squared() - 1.0).abs() < 1e-3,
            WaterSurface::Round { middle, radius } => middle.is_finite() && radius.is_finite() && radius > 0.0,
            WaterSurface::Border => true,
        }
    }

    /// Unit vector out of the still water at `place`; `up` where there is no telling.
    pub(crate) fn out_at(&self, place: DVec3, up: DVec3) -> DVec3 {
        match *self {
            WaterSurface::Border => up,
            WaterSurface::Flat { up, .. } => up.as_dvec3(),
            WaterSurface::Round { middle, .. } => {
                let out = place - middle;
                let length = out.length();
                if length > 1e-9 { out / length } else { up }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_surface_is_where_it_says_seen_from_any_way_up() {
        let flat = WaterSurface::Flat { through: DVec3::Y * 2.0, up: Vec3::Y };
        assert_eq!(flat.under(DVec3::X, DVec3::Y, 0.5), (f64::NEG_INFINITY, 2.5));
        let slanted = DVec3::new(0.6, 0.8, 0.0);
        assert!((flat.under(DVec3::ZERO, slanted, 0.0).1 - 2.5).abs() < 1e-12);
        assert_eq!(flat.under(DVec3::Y * 3.0, DVec3::NEG_Y, 0.0), (1.0, f64::INFINITY), "head down, from above");
        assert_eq!(flat.under(DVec3::Y, DVec3::X, 0.0), (f64::NEG_INFINITY, f64::INFINITY));
        let (none, all) = flat.under(DVec3::Y * 3.0, DVec3::X, 0.0);
        assert!(none > all);
        let sea = WaterSurface::Round { middle: DVec3::ZERO, radius: 50.0 };
        let feet = DVec3::new(0.0, 0.0, 48.0);
        assert!((sea.under(feet, DVec3::Z, 0.25).1 - 2.25).abs() < 1e-12);
        assert_eq!(sea.out_at(feet, DVec3::Y), DVec3::Z);
    }

    #[test]
    fn a_swell_travels_the_way_it_says() {
        let swell = Swell { along: Vec3::X, height: 1.0, length: 8.0, period: 4.0, since: 0.0 };
        assert!((swell.lift(DVec3::ZERO, 1.0) - 0.5).abs() < 1e-12, "a crest");
        assert!((swell.lift(DVec3::X * 2.0, 2.0) - 0.5).abs() < 1e-12, "a second later a quarter of its length on");
        assert!((swell.lift(DVec3::Z * 5.0, 1.0) - 0.5).abs() < 1e-12, "along its whole crest");
    }
}
