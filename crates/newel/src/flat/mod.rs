//! Flat worlds: a front in pixels for side views and top views, over the same ticks.
//!
//! Flat things are extruded across the plane of the picture, and the character keeps to that plane: a side view lies in x and y with +Y up,
//! a top view in x and z, seen from +Y. Everything else is as it is in space, and all of it works here.
//!
//! In a side view the character falls along its gravity, and only the level part of the stick moves it on foot. In a top view
//! ([`Scale::top_view`]) the picture is the floor: nothing falls, the whole stick counts, a spot is the character's middle, and solid tiles
//! are walls:
//!
//! ```
//! use newel::{Form, Tuning, TuningValues, flat};
//! // A room of 10 by 8 tiles of 16 pixels, a box one tile wide.
//! let px = flat::Scale::new(16.0)?.y_down().top_view();
//! let room = |x, y| if x == 0 || x == 9 || y == 0 || y == 7 { flat::Tile::Solid } else { flat::Tile::Empty };
//! let level = flat::Tiles::new(px, 10, 8, room)?;
//! let mut values = TuningValues { jump: None, ..TuningValues::default() };
//! (values.size.form, values.size.radius) = (Form::Box, 0.5);
//! let tuning = Tuning::new(values)?;
//! let mut hero = flat::Runner::spawn(&level, &tuning, px.at(32.0, 32.0))?;
//! for _frame in 0..180 {
//!     hero.advance(1.0 / 60.0, &level, &tuning, |_| flat::toward(1.0, -1.0), |_| {})?;
//! }
//! let rect = hero.rect(&tuning);
//! assert!((rect.max.x - 144.0).abs() < 0.01 && (rect.max.y - 112.0).abs() < 0.01, "in the lower right corner: {rect:?}");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! A box stands as if on two feet: `ground.overhang`, a part of half its width, is how far each is from its middle. A picture with its legs
//! apart has them there, and it slips off an edge once both feet are beyond it.

mod frames;
#[cfg(feature = "mesh")]
mod lines;
mod rect;
mod scale;
mod slab;
mod tile_terrain;
mod tiles;

pub use frames::{FrameOrder, Frames};
#[cfg(feature = "mesh")]
pub use lines::lines;
pub use rect::Rect;
pub use scale::{Scale, Spot};
pub use tiles::{Tile, Tiles, TilesError};

use glam::{DVec2, Vec2};

use crate::command::Command;
use crate::drive::heading::Heading;
use crate::drive::intent::Intent;
use crate::error::{SpawnError, TickError};
use crate::runner::{Before, Ticked};
use crate::terrain::Terrain;
use crate::tuning::Tuning;

/// A character in a flat world, in pixels.
///
/// ```
/// use newel::{Button, Form, Tuning, TuningValues, flat};
/// // A floor of solid tiles of 16 pixels, a metre each, under a character as an upright box.
/// let px = flat::Scale::new(16.0)?.y_down();
/// let level = flat::Tiles::new(px, 20, 10, |_, y| if y == 9 { flat::Tile::Solid } else { flat::Tile::Empty })?;
/// let mut values = TuningValues::default();
/// values.size.form = Form::Box;
/// let tuning = Tuning::new(values)?;
/// let mut hero = flat::Runner::spawn(&level, &tuning, px.at(40.0, 144.0))?;
/// for _frame in 0..60 {
///     hero.advance(1.0 / 60.0, &level, &tuning, |_| flat::toward(1.0, 0.0).hold(Button::Sprint), |_| {})?;
/// }
/// assert!(hero.position().x > 90.0 && hero.position().y == 144.0);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct Runner {
    /// The runner underneath: modifiers, the clock and the whole state are there, in metres.
    pub inner: crate::runner::Runner,
    scale: Scale,
}

/// An intent to go along the picture: right and up as the screen shows them, at most one long.
#[must_use]
pub fn toward(right: f32, up: f32) -> Intent {
    Intent::new(Heading::Plane(Vec2::new(right, up)))
}

impl Runner {
    /// A character with its feet at a spot, ticking 60 times a second. In a top view the spot is its middle.
    ///
    /// # Errors
    /// As [`Character::spawn`](crate::Character::spawn).
    pub fn spawn(terrain: &dyn Terrain, tuning: &Tuning, at: Spot) -> Result<Runner, SpawnError> {
        let inner = crate::runner::Runner::spawn(terrain, tuning, at.spawn())?;
        Ok(Runner { inner, scale: at.scale() })
    }

    /// Has the next tick obey `command` first. Its places and velocities are in metres: [`Scale::world`] turns pixels,
    /// and pixels a second, into them.
    ///
    /// ```
    /// use newel::glam::DVec2;
    /// use newel::{Command, Launch, Tuning, flat};
    ///
    /// let px = flat::Scale::new(16.0)?.y_down();
    /// let level = flat::Tiles::new(px, 8, 8, |_, y| if y == 7 { flat::Tile::Solid } else { flat::Tile::Empty })?;
    /// let mut hero = flat::Runner::spawn(&level, &Tuning::walker(), px.at(64.0, 112.0))?;
    /// hero.command(Command::Launch(Launch::at(px.world(DVec2::new(0.0, -100.0)))));
    /// hero.advance(0.1, &level, &Tuning::walker(), |_| flat::toward(0.0, 0.0), |_| {})?;
    /// assert!(hero.position().y < 110.0, "thrown up the picture");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn command(&mut self, command: Command) {
        self.inner.command(command);
    }

    /// Passes `frame` seconds, as [`Runner::advance`](crate::Runner::advance).
    ///
    /// # Errors
    /// As there.
    pub fn advance(
        &mut self,
        frame: f64,
        terrain: &dyn Terrain,
        tuning: &Tuning,
        intent: impl FnMut(&Before<'_>) -> Intent,
        on_tick: impl FnMut(&Ticked<'_>),
    ) -> Result<(), TickError> {
        self.inner.advance(frame, terrain, tuning, intent, on_tick)
    }

    /// Where the feet are after the last tick, pixels.
    #[must_use]
    pub fn position(&self) -> DVec2 {
        self.scale.place(self.inner.character.position)
    }

    /// How fast it moves, pixels a second.
    #[must_use]
    pub fn velocity(&self) -> DVec2 {
        self.scale.way(self.inner.character.velocity)
    }

    /// Where to draw its feet now, between the last two ticks, pixels.
    #[must_use]
    pub fn drawn(&self) -> DVec2 {
        self.scale.place(self.inner.pose().position)
    }

    /// True where it looks to the right of the picture.
    #[must_use]
    pub fn looks_right(&self) -> bool {
        self.inner.character.facing.x >= 0.0
    }

    /// The rectangle of the character as drawn now: for sprites and for what hits it.
    #[must_use]
    pub fn rect(&self, tuning: &Tuning) -> Rect {
        let state = &self.inner.character.state;
        let ways = [state.up, state.axis].map(|way| self.scale.way(way.as_dvec3()));
        Rect::of(&tuning.shape_in(state.stance), self.drawn(), ways, &self.scale)
    }
}
