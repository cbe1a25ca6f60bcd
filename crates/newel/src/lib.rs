//! Newel moves a game character: stable, predictable, tunable movement for any engine.
//!
//! It draws nothing, owns no clock and touches no device: a game feeds it time and intents and reads back where the
//! character is and what happened.
//!
//! ```
//! use newel::{Button, Latch, Mesh, Runner, Tuning};
//! let floor = [[-20.0, 0.0, -20.0], [20.0, 0.0, -20.0], [20.0, 0.0, 20.0], [-20.0, 0.0, 20.0f32]];
//! let level = Mesh::new(&floor, &[0, 1, 2, 0, 2, 3])?;
//! let tuning = Tuning::heavy_explorer();
//! let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
//! let mut latch = Latch::new();
//! for _frame in 0..100 {
//!     latch.view(0.0, 0.0).stick(0.0, 1.0).hold(Button::Jump, false);
//!     hero.advance(1.0 / 100.0, &level, &tuning, |_| latch.take(), |_tick| {})?;
//! }
//! assert!(hero.pose().position.z < -3.0, "a second's walk along -Z");
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! # Conventions
//! Metres, seconds, metres per second; angles in a tuning are degrees. Right-handed coordinates. No axis is special:
//! up is each character's own unit vector, +Y unless a [`Spawn`] says otherwise. A character's position is the lowest
//! point of its capsule. Positions and velocities are `f64`, directions and sizes `f32`.
//!
//! # Where to start
//! [`Runner`] is the easy front: it owns the character and the fixed-tick clock. [`Tick::step`] is the same without
//! them: one call for each character and tick, for servers and entity-component engines. [`Tuning`] holds the numbers,
//! [`Terrain`] is what a world implements, [`Mesh`] the one that is ready-made; [`Scene`] adds bodies that move.
//!
//! [`Intent::stance`] says what shape the character is to have; there is one gate for that, which asks for room. [`Gestures`] make
//! buttons and stances of keys that are held, toggled, tapped twice or pressed long.
//!
//! Hold for climbing is a property of surfaces ([`Terrain::hold`], [`Mesh::with_hold`]) or of a [`Zone`]; ledges are found
//! from the geometry alone. A game adds a mode of its own with [`CustomMode`]; what it keeps is part of the [`Character`].
//!
//! Water is a [`Zone`] with [`Effect::Water`]: [`Swim`] says how a character floats, strokes and dives in it, [`Readout::water`] how deep it is.
//!
//! [`Heading::To`] leads to a place, and stops there; [`GoTo`] is the driver for that, for clicks and for agents: it says when it is there,
//! and if not, why.
//!
//! [`Patrol`] goes to and fro, [`Lock`] keeps to a target and goes round it, [`Bounds`] are the limits of a level. Ways round what is in between are the
//! crate `newel-routes`.
//!
//! For a side view or a top view, [`Spawn::in_plane`] keeps a character to a plane (boxes need one) and
//! [`Heading::Plane`] reads the stick along it. Characters that are in each other's way are [`Round`]s to one another. The
//! crate's examples show both.
#![cfg_attr(docsrs, feature(doc_cfg))]

mod activity;
mod character;
mod clock;
mod coarse;
mod command;
mod contact;
mod crowd;
mod drive;
mod error;
mod explain;
mod factors;
mod figure;
mod fingerprint;
pub mod flat;
mod flight;
mod launch;
mod law;
mod limits;
mod marks;
mod math;
mod mode;
mod modifiers;
mod moment;
mod motion;
mod outcome;
mod phase;
mod plane;
mod region;
mod rest;
mod run;
mod runner;
mod schedule;
mod shape;
mod slice_start;
mod spawn;
mod stance;
mod state;
mod step;
mod support;
mod terrain;
mod tuning;
mod under_way;
mod walls;
mod workspace;

pub use glam;

/// The tests' own geometry names this crate as its users do.
#[cfg(test)]
extern crate self as newel;

pub use activity::{Activity, CrestFlight, StepOver};
pub use character::Character;
pub use clock::Clock;
pub use coarse::{CoarseDirection, CoarsePart, CoarseVelocity};
pub use command::Command;
pub use contact::key::KnownWalls;
pub use crowd::{Crowd, CrowdError, Heads, Member};
pub use drive::{
    Aside, AtBounds, AtSolid, Bounded, Bounds, Button, Buttons, Change, Crossed, Face, Gesture, Gestures, Gives, GoEnd,
    GoTo, Going, Heading, Intent, Latch, Lock, LockEnd, Locking, NoTarget, OwnHeading, Pacing, Patrol, Sights, Target,
    Timed,
};
pub use error::{SpawnError, TickError};
#[cfg(feature = "explain")]
pub use explain::{Note, Seen, SeenContact, SeenFacet, Sink, StepResult};
pub use factors::Factors;
pub use fingerprint::{Fingerprint, Fingerprinted};
pub use flight::Aim;
pub use launch::{Axes, Launch, OutOfReach};
pub use marks::Marks;
pub use mode::{CustomMode, Met, ModeCx, Next};
pub use modifiers::Modifiers;
pub use outcome::{Ability, Barred, Event, EventKind, HoldEnd, Off, Outcome, Readout, Refusal, SlideEnd, Wet};
pub use phase::{Mode, Phase};
pub use plane::Plane;
pub use runner::{Before, DrawPose, Runner, Ticked};
pub use shape::{Form, Shape};
pub use spawn::Spawn;
pub use stance::{Asked, Stance};
pub use state::{Rest, State};
pub use step::Tick;
pub use support::{Ground, Support, Underfoot};
pub use terrain::{
    Body, Effect, Ending, Facet, Footing, Gusts, Heights, HeightsError, Hold, Key, Layers, Patch, Pose, Pull, RayHit,
    Round, Sensor, Swell, Terrain, Timetable, Track, TrackError, Water, WaterSurface, Waves, When, Who, Wind, Zone,
};
#[cfg(feature = "mesh")]
pub use terrain::{Mesh, MeshError, Scene, SceneError, Solid, Vertex};
pub use tuning::{
    Allows, Aloft, Along, Anchor, CHOICES, Choice, Climb, Dash, FIELDS, Field, Gait, Holds, Hover, Impact, InAir, Jump,
    Ledge, LowStance, OnGround, Rise, Size, Slide, Sprint, Stances, Steers, Stick, Submerged, Swim, Takes, Toward,
    Tuning, TuningError, TuningValues, Turn, Vault, WallJump, WallSlide, Ways,
};
pub use workspace::Workspace;

/// The code of the README, run as a test.
#[cfg(doctest)]
#[doc = include_str!("../../../README.md")]
struct Readme;
