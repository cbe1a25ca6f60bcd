//! From pixels to metres and back.

use glam::{DVec2, DVec3, Vec3};

use crate::error::TickError;
use crate::spawn::Spawn;
use crate::stance::Stance;

/// How a picture lies in the world: pixels to a metre, which way y runs, and from where it is seen.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Scale {
    pixels: f64,
    y_down: bool,
    top: bool,
}

/// A spot of a picture, and how a character begins there: looking right, standing, pulled down the picture unless it says otherwise.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spot {
    /// Where, pixels.
    pub at: DVec2,
    scale: Scale,
    facing: DVec2,
    stance: Stance,
    pull: Option<DVec2>,
}

impl Scale {
    /// So many pixels to a metre, over 0 and at most a million; seen from the side, with y up.
    ///
    /// # Errors
    /// [`TickError::NotOverZero`] for any other number.
    pub fn new(pixels: f64) -> Result<Scale, TickError> {
        if pixels > 0.0 && pixels <= MOST {
            return Ok(Scale { pixels, y_down: false, top: false });
        }
        Err(TickError::NotOverZero { field: "scale.pixels", value: pixels, most: MOST })
    }

    /// The same with y down the picture.
    #[must_use]
    pub fn y_down(self) -> Scale {
        Scale { y_down: true, ..self }
    }

    /// The same seen from above.
    #[must_use]
    pub fn top_view(self) -> Scale {
        Scale { top: true, ..self }
    }

    /// True where y runs down the picture.
    #[must_use]
    pub fn is_y_down(&self) -> bool {
        self.y_down
    }

    /// True where the world is seen from above.
    #[must_use]
    pub fn is_top_view(&self) -> bool {
        self.top
    }

    /// A spot of the picture.
    #[must_use]
    pub fn at(&self, x: f64, y: f64) -> Spot {
        Spot { at: DVec2::new(x, y), scale: *self, facing: DVec2::X, stance: Stance::Stand, pull: None }
    }

    /// Metres as pixels.
    #[must_use]
    pub fn pixels(&self, metres: f64) -> f64 {
        metres * self.pixels
    }

    /// Pixels as metres.
    #[must_use]
    pub fn metres(&self, pixels: f64) -> f64 {
        pixels / self.pixels
    }

    /// Where a spot of the picture is in the world, metres; so too a velocity in pixels a second, in m/s.
    #[must_use]
    pub fn world(&self, at: DVec2) -> DVec3 {
        self.axes(at / self.pixels)
    }

    /// A spot in metres with y up.
    #[cfg(feature = "mesh")]
    pub(super) fn upward(&self, at: DVec2) -> DVec2 {
        let metres = at / self.pixels;
        DVec2::new(metres.x, if self.y_down { -metres.y } else { metres.y })
    }

    /// A spot in metres, in the axes of the world.
    fn axes(&self, metres: DVec2) -> DVec3 {
        let up = if self.y_down { -metres.y } else { metres.y };
        // Seen from above the top of the picture is -z.
        if self.top { DVec3::new(metres.x, 0.0, -up) } else { DVec3::new(metres.x, up, 0.0) }
    }

    /// Where a place in the world is in the picture, pixels.
    #[must_use]
    pub fn place(&self, place: DVec3) -> DVec2 {
        let up = if self.top { -place.z } else { place.y };
        DVec2::new(place.x, if self.y_down { -up } else { up }) * self.pixels
    }

    /// A way or a velocity in the world, in pixels.
    #[must_use]
    pub fn way(&self, way: DVec3) -> DVec2 {
        self.place(way)
    }

    /// The normal of the plane of the picture, toward the viewer.
    #[must_use]
    pub fn normal(&self) -> Vec3 {
        if self.top { Vec3::Y } else { Vec3::Z }
    }
}

const MOST: f64 = 1e6;

impl Spot {
    /// The same, looking along a way of the picture: [-1, 0] is left.
    #[must_use]
    pub fn facing(self, way: impl Into<DVec2>) -> Spot {
        Spot { facing: way.into(), ..self }
    }

    /// The same in a stance.
    #[must_use]
    pub fn in_stance(self, stance: Stance) -> Spot {
        Spot { stance, ..self }
    }

    /// The same with gravity of its own along a way of the picture, as strong as that is long: 1 is what the tuning makes of it. In a side
    /// view it stands that way up from the start.
    ///
    /// ```
    /// use newel::{Mode, Tuning, flat};
    /// let px = flat::Scale::new(16.0)?.y_down();
    /// let level = flat::Tiles::new(px, 8, 8, |_, y| if y == 0 || y == 7 { flat::Tile::Solid } else { flat::Tile::Empty })?;
    /// let hero = flat::Runner::spawn(&level, &Tuning::walker(), px.at(64.0, 16.0).pulled([0.0, -1.0]).facing([-1.0, 0.0]))?;
    /// assert!(hero.inner.character.mode == Mode::Ground && !hero.looks_right(), "on the ceiling");
    /// assert!(hero.rect(&Tuning::walker()).min.y == 16.0);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn pulled(self, pull: impl Into<DVec2>) -> Spot {
        Spot { pull: Some(pull.into()), ..self }
    }

    /// How to spawn a character here that keeps to the picture: for [`Character::spawn`](crate::Character::spawn).
    #[must_use]
    pub fn spawn(&self) -> Spawn {
        let unit = |way: DVec2| (self.scale.world(way) * self.scale.pixels).as_vec3();
        let spawn =
            Spawn::at(self.world()).in_plane(self.scale.normal()).facing(unit(self.facing)).in_stance(self.stance);
        match self.pull.map(unit) {
            Some(pull) if self.scale.top || pull == Vec3::ZERO => spawn.pulled(pull),
            Some(pull) => spawn.pulled(pull).up(-pull),
            None => spawn,
        }
    }

    /// Where it is in the world, metres.
    #[must_use]
    pub fn world(&self) -> DVec3 {
        self.scale.world(self.at)
    }

    /// The scale that it is given in.
    #[must_use]
    pub fn scale(&self) -> Scale {
        self.scale
    }
}
