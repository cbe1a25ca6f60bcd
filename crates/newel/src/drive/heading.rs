//! Where to go and where to look, in any frame, as a vector in the world.

use glam::{DVec3, Vec2, Vec3};

use crate::error::TickError;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::math::{direction, flatten};
use crate::plane::Plane;
use crate::state::State;
use crate::tuning::{Stick, Toward, Tuning};

/// Where to go and how fast: length 1 is full speed, less walks slower, more counts as 1.
///
/// All but [`Heading::World`] come from a stick or from keys, to the right and ahead, and go through the tuning's
/// [`Stick`].
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Heading {
    /// A direction in the world; only the part square to up counts.
    World(Vec3),
    /// To the right and ahead as the view looks, flattened square to up.
    View(Vec2),
    /// To the right and ahead as the body looks.
    Body(Vec2),
    /// Turns the body to the right at up to the tuned rate, and goes ahead or back the way it looks.
    TurnAndGo(Vec2),
    /// To the right and up along what it climbs or hangs from, as seen from where it is; elsewhere as the view looks.
    Surface(Vec2),
    /// To the right and up on a screen that shows the character's plane, its normal toward the player; up on the screen is +Y, or -Z where
    /// that is the normal. However gravity pulls, right stays right. Of the stick only the part counts along which it can go, at full
    /// length: on foot in a side view the level part, on a ladder the upright part, swimming and in a top view both. Without a plane, as
    /// the view looks.
    Plane(Vec2),
    /// To the right and ahead as seen from where it is toward a place: ahead leads there, to the side leads round it at the same distance.
    /// For circling a target in view.
    Around {
        /// The place to go round, metres.
        place: DVec3,
        /// The stick.
        stick: Vec2,
    },
    /// To a place in the world, along the shortest way over the map, and no further: on foot it slows so as to stop there, inside the tick
    /// and without going past, as far as its tuning can brake; swimming and hovering it slows and comes to rest there; in the air it heads
    /// on. Heights do not count. Within 0.1 mm the character has arrived, and stands against the wind.
    To {
        /// Where to, metres.
        place: DVec3,
        /// How fast on the way, 0 to 1: 1 is full speed.
        speed: f32,
    },
}

impl Default for Heading {
    /// Nowhere.
    fn default() -> Heading {
        Heading::World(Vec3::ZERO)
    }
}

/// Nearer than this, metres, is there.
pub(crate) const THERE: f64 = 1e-4;

/// Target of the facing.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Face {
    /// As `turn.toward` of the tuning says.
    #[default]
    Tuned,
    /// Where it is heading.
    Movement,
    /// Where the player looks.
    View,
    /// Left or right, at once: along its plane, or sideways to the view.
    Sides,
    /// A place in the world.
    Point(DVec3),
    /// Nothing: it keeps its facing.
    Nothing,
}

/// All that a heading may refer to.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Bearings {
    pub view: Vec3,
    pub up: Vec3,
    pub facing: Vec3,
    pub keeps: Plane,
    pub stick: Stick,
    /// Where it is.
    pub place: DVec3,
}

impl Bearings {
    pub fn of(state: &State, view: Vec3, tuning: &Tuning) -> Bearings {
        let State { up, facing, keeps, position, .. } = *state;
        Bearings { view, up, facing, keeps, stick: tuning.values().stick, place: position }
    }

    /// The view flattened square to up; the body's facing stands in for one straight up or down.
    pub fn ahead(&self) -> Vec3 {
        direction(flatten(self.view, self.up)).unwrap_or(self.facing)
    }

    /// Right and up on the screen that shows the plane.
    fn screen(&self) -> (Vec3, Vec3) {
        if !self.keeps.is_plane() {
            return (self.ahead().cross(self.up), self.ahead());
        }
        let normal = self.keeps.normal;
        let north = direction(flatten(Vec3::Y, normal)).unwrap_or(Vec3::NEG_Z);
        (north.cross(normal), north)
    }

    /// True where the screen shows it from the side.
    fn is_side_view(&self) -> bool {
        self.keeps.is_plane() && !self.keeps.is_top_view(self.up)
    }

    /// The part of a stick on the screen along `way`, one long, of which it is the only one that counts: at full length where it is pressed
    /// straight to the side of the screen that `way` mostly leads to.
    pub fn along_screen(&self, stick: Vec2, way: Vec3) -> f32 {
        let (right, north) = self.screen();
        let parts = Vec2::new(right.dot(way), north.dot(way));
        let most = parts.abs().max_element().max(f32::MIN_POSITIVE);
        self.stick.shaped(Vec2::new(stick.dot(parts / most), 0.0)).x
    }

    /// A stick on the screen as a vector in the world, at most one long.
    pub fn on_screen(&self, stick: Vec2) -> Vec3 {
        let ((right, north), shaped) = (self.screen(), self.stick.shaped(stick));
        right * shaped.x + north * shaped.y
    }

    /// The heading as a vector square to up and in the plane, at most one long.
    pub fn flat(&self, heading: Heading) -> Vec3 {
        let along = |(right, ahead): (Vec3, Vec3), stick: Vec2| {
            let shaped = self.stick.shaped(stick);
            right * shaped.x + ahead * shaped.y
        };
        let wanted = match heading {
            Heading::World(v) => flatten(v, self.up),
            Heading::View(stick) | Heading::Surface(stick) => along((self.ahead().cross(self.up), self.ahead()), stick),
            Heading::Body(stick) => along((self.facing.cross(self.up), self.facing), stick),
            // Turning takes nothing from going: each axis by itself.
            Heading::TurnAndGo(stick) => along((Vec3::ZERO, self.facing), Vec2::new(0.0, stick.y)),
            Heading::Plane(stick) if self.is_side_view() => {
                let level = self.up.cross(self.keeps.normal);
                level * self.along_screen(stick, level)
            }
            Heading::Plane(stick) => self.on_screen(stick),
            Heading::To { place, speed } => self.way_to(place) * speed,
            Heading::Around { place, stick } => {
                let ahead = self.way_to(place);
                along((ahead.cross(self.up), ahead), stick)
            }
        };
        let across = wanted.abs().max_element();
        // A remainder of a stick across the plane is rounding.
        let wanted =
            Some(self.keeps.flat(wanted)).filter(|w| w.abs().max_element() > 1e-6 * across).unwrap_or(Vec3::ZERO);
        // Scaled down first: the length of a huge but finite vector would overflow.
        let most = wanted.abs().max_element();
        if most > 1.0 { direction(wanted / most).unwrap_or(Vec3::ZERO) } else { wanted / wanted.length().max(1.0) }
    }

    /// The way to a place over the map, one long; zero where it is there.
    fn way_to(&self, place: DVec3) -> Vec3 {
        let way = self.keeps.over_map(place - self.place, self.up.as_dvec3());
        let far = way.length();
        if far < THERE { Vec3::ZERO } else { (way / far).as_vec3() }
    }

    /// The heading in space, for whoever can go up and down: along the view or, given in the world, as it is; at most one long.
    pub fn in_space(&self, heading: Heading) -> Vec3 {
        let wanted = match heading {
            Heading::World(v) => v,
            Heading::View(stick) | Heading::Surface(stick) => {
                let shaped = self.stick.shaped(stick);
                let right = self.ahead().cross(self.up);
                right * shaped.x + direction(self.view).unwrap_or(self.ahead()) * shaped.y
            }
            Heading::Plane(stick) if self.is_side_view() => self.on_screen(stick),
            Heading::Plane(_)
            | Heading::Body(_)
            | Heading::TurnAndGo(_)
            | Heading::To { .. }
            | Heading::Around { .. } => {
                return self.flat(heading);
            }
        };
        let wanted = self.keeps.flat(wanted);
        let most = wanted.abs().max_element();
        if most > 1.0 { direction(wanted / most).unwrap_or(Vec3::ZERO) } else { wanted / wanted.length().max(1.0) }
    }

    /// Where the body is to look, square to up, when it goes along `wish` from `place`; `None` to keep its facing. And
    /// whether it gets there at once.
    pub fn face(&self, face: Face, toward: Toward, wish: Vec3, place: DVec3) -> Option<(Vec3, bool)> {
        let face = match (face, toward) {
            (Face::Tuned, Toward::Movement) => Face::Movement,
            (Face::Tuned, Toward::View) => Face::View,
            (Face::Tuned, Toward::Sides) => Face::Sides,
            (Face::Tuned, Toward::Nothing) => Face::Nothing,
            (other, _) => other,
        };
        match face {
            Face::Movement => Some((direction(flatten(any_length(wish)?, self.up))?, false)),
            Face::View => Some((direction(flatten(self.view, self.up))?, false)),
            Face::Point(point) => {
                let way = point - place;
                let most = way.abs().max_element();
                let flat = flatten((way / most.max(1e-9)).as_vec3(), self.up);
                // Straight above or below there is no way to look.
                Some((direction(flat).filter(|_| f64::from(flat.length()) * most > 1e-6)?, false))
            }
            Face::Sides => {
                let right = self.side();
                let along = wish.dot(right);
                Some((direction(right * along.signum())?, true)).filter(|_| along != 0.0)
            }
            Face::Tuned | Face::Nothing => None,
        }
    }

    /// Along the plane, or sideways to the view.
    fn side(&self) -> Vec3 {
        if self.is_side_view() { self.up.cross(self.keeps.normal) } else { self.screen().0 }
    }
}

/// The direction of a vector however short it is.
fn any_length(v: Vec3) -> Option<Vec3> {
    let most = v.abs().max_element();
    direction(v / most).filter(|_| most > 0.0)
}

impl Heading {
    /// How much the body is to turn to the right, -1 to 1; `None` where the heading does not turn it.
    pub(crate) fn turning(self, stick: &Stick) -> Option<f32> {
        match self {
            Heading::TurnAndGo(raw) => Some(stick.shaped(Vec2::new(raw.x, 0.0)).x),
            _ => None,
        }
    }

    pub(crate) fn check(&self, field: &'static str) -> Result<(), TickError> {
        let finite = match self {
            Heading::World(v) => v.is_finite(),
            Heading::View(v) | Heading::Body(v) | Heading::TurnAndGo(v) | Heading::Plane(v) | Heading::Surface(v) => {
                v.is_finite()
            }
            Heading::To { speed, .. } if speed.is_finite() && !(0.0..=1.0).contains(speed) => {
                let (field, value) = ("intent.heading.speed", f64::from(*speed));
                return Err(TickError::OutOfRange { field, value, least: 0.0, most: 1.0 });
            }
            Heading::To { place, speed } => place.is_finite() && speed.is_finite(),
            Heading::Around { place, stick } => place.is_finite() && stick.is_finite(),
        };
        if finite { Ok(()) } else { Err(TickError::NotFinite { field }) }
    }
}

impl Face {
    pub(crate) fn check(&self) -> Result<(), TickError> {
        match self {
            Face::Point(point) if !point.is_finite() => Err(TickError::NotFinite { field: "intent.face" }),
            _ => Ok(()),
        }
    }
}

impl Heading {
    /// True where the stick or the direction says anything at all.
    pub(crate) fn is_any(self) -> bool {
        self.pressed() > 0.0
    }

    /// How far the stick is pressed, or how long the direction is: by its longest part, 0 for none.
    pub(crate) fn pressed(self) -> f32 {
        match self {
            Heading::World(v) => v.abs().max_element(),
            Heading::View(v) | Heading::Body(v) | Heading::TurnAndGo(v) | Heading::Plane(v) | Heading::Surface(v) => {
                v.abs().max_element()
            }
            Heading::To { speed, .. } => speed,
            Heading::Around { stick, .. } => stick.abs().max_element(),
        }
    }
}

impl Fingerprinted for Heading {
    fn feed(&self, print: &mut Fingerprint) {
        let (kind, vector) = match *self {
            Heading::To { place, speed } => {
                place.to_array().iter().for_each(|x| print.f64(*x));
                (6, Vec3::splat(speed))
            }
            Heading::Around { place, stick } => {
                place.to_array().iter().for_each(|x| print.f64(*x));
                (7, stick.extend(0.0))
            }
            Heading::World(v) => (0, v),
            Heading::View(v) => (1, v.extend(0.0)),
            Heading::Body(v) => (2, v.extend(0.0)),
            Heading::TurnAndGo(v) => (3, v.extend(0.0)),
            Heading::Plane(v) => (4, v.extend(0.0)),
            Heading::Surface(v) => (5, v.extend(0.0)),
        };
        print.u64(kind);
        vector.to_array().iter().for_each(|x| print.f32(*x));
    }
}

impl Fingerprinted for Face {
    fn feed(&self, print: &mut Fingerprint) {
        let (kind, point) = match *self {
            Face::Tuned => (0, DVec3::ZERO),
            Face::Movement => (1, DVec3::ZERO),
            Face::View => (2, DVec3::ZERO),
            Face::Sides => (3, DVec3::ZERO),
            Face::Point(point) => (4, point),
            Face::Nothing => (5, DVec3::ZERO),
        };
        print.u64(kind);
        point.to_array().iter().for_each(|x| print.f64(*x));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn bearings(view: Vec3) -> Bearings {
        Bearings {
            view,
            up: Vec3::Y,
            facing: Vec3::X,
            keeps: Plane::default(),
            stick: Stick::default(),
            place: DVec3::ZERO,
        }
    }

    #[test]
    fn diagonals_are_no_faster_and_a_light_stick_walks() {
        let flat = |v: Vec3| bearings(Vec3::NEG_Z).flat(Heading::World(v));
        assert!((flat(Vec3::new(1.0, 5.0, 1.0)).length() - 1.0).abs() < 1e-6);
        assert_eq!(flat(Vec3::new(0.25, 0.0, 0.0)), Vec3::new(0.25, 0.0, 0.0));
        assert!((flat(Vec3::splat(f32::MAX)).length() - 1.0).abs() < 1e-6);
        assert_eq!(flat(Vec3::X + Vec3::NEG_X), Vec3::ZERO, "opposed keys cancel");
    }

    #[test]
    fn the_view_is_flattened_and_right_is_right() {
        let heading = Heading::View(Vec2::new(0.0, 1.0));
        let down = bearings(Vec3::new(0.0, -0.9, -0.1)).flat(heading);
        assert!((down - Vec3::NEG_Z).length() < 1e-6, "{down}");
        assert_eq!(bearings(Vec3::NEG_Z).flat(Heading::View(Vec2::X)), Vec3::X);
        assert_eq!(bearings(Vec3::NEG_Y).flat(heading), Vec3::X, "straight down: the body's facing");
        let body = bearings(Vec3::NEG_Z);
        assert_eq!(body.flat(Heading::Body(Vec2::new(1.0, 0.0))), Vec3::Z, "right of +X");
        assert_eq!(body.flat(Heading::TurnAndGo(Vec2::new(0.6, 0.5))), Vec3::X * 0.5);
    }

    #[test]
    fn a_plane_is_seen_from_the_side_its_normal_points_to() {
        let see = |up: Vec3, normal: Vec3, stick: Vec2| {
            let keeps = Plane::new(normal);
            Bearings { up, keeps, ..bearings(Vec3::NEG_Z) }.flat(Heading::Plane(stick))
        };
        assert_eq!(see(Vec3::Y, Vec3::Z, Vec2::X), Vec3::X, "from the side");
        assert_eq!(see(Vec3::Y, Vec3::Z, Vec2::Y), Vec3::ZERO, "up is not a way to walk");
        // Nearly all across the plane: what rounding leaves is no way to go.
        let askew = Vec3::new(0.48, 0.0, 0.877_268_5);
        let keeps = Plane::new(askew / askew.length());
        let across = Bearings { keeps, facing: keeps.normal, ..bearings(Vec3::NEG_Z) }.flat(Heading::Body(Vec2::Y));
        assert_eq!(across, Vec3::ZERO);
        assert_eq!(see(Vec3::Y, Vec3::Y, Vec2::Y), Vec3::NEG_Z, "from above, north is up");
        assert_eq!(see(Vec3::Z, Vec3::Z, Vec2::Y), Vec3::Y, "also where +Z is up");
        assert_eq!(see(Vec3::Z, Vec3::Z, Vec2::X), Vec3::X);
    }

    #[test]
    fn facing_follows_what_it_is_told_to() {
        let b = bearings(Vec3::new(0.0, -0.5, -0.5));
        let face = |face: Face, wish: Vec3| b.face(face, Toward::Movement, wish, DVec3::ZERO).map(|f| f.0);
        assert_eq!(face(Face::Tuned, Vec3::Z * 1e-20), Some(Vec3::Z), "however light the stick");
        assert_eq!(face(Face::Tuned, Vec3::ZERO), None, "kept without input");
        assert_eq!(face(Face::View, Vec3::Z), Some(Vec3::NEG_Z));
        assert_eq!(face(Face::Point(DVec3::new(5e9, 3.0, 0.0)), Vec3::Z), Some(Vec3::X));
        assert_eq!(face(Face::Point(DVec3::new(0.0, 3.0, 0.0)), Vec3::Z), None, "straight above");
        assert_eq!(face(Face::Sides, Vec3::new(-0.1, 0.0, 1.0)), Some(Vec3::NEG_X));
        assert_eq!(face(Face::Nothing, Vec3::Z), None);
    }
}
