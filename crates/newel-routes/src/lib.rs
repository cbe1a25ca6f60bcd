//! Routes for characters moved by [`newel`]: what a click means, the way there, and the trip along it.
//!
//! [`Routes`] surveys any [`Terrain`](newel::Terrain) for characters of one tuning: where they can stand, what they can walk, and where a drop,
//! a jump, a ladder or a ledge leads on. It does so with the character's own legs, so that what it says is what the character will do.
//! [`Routes::pick`] makes a place of a view ray, or says why it cannot; [`Routes::plan`] finds a [`Route`], a little in each call; a [`Trip`] is
//! the driver that plans and goes it.
//!
//! ```
//! use newel::{Intent, Mesh, Runner, Tuning, glam::{DVec3, Vec3}};
//! use newel_routes::{Routes, Survey, Trip, Travel, TripEnd};
//! let yard = [[-9.0, 0.0, -9.0], [9.0, 0.0, -9.0], [9.0, 0.0, 9.0], [-9.0, 0.0, 9.0f32]];
//! let wall = [[3.0, -0.1, -9.0], [3.0, 2.5, -9.0], [3.0, 2.5, 5.0], [3.0, -0.1, 5.0f32]];
//! let level = Mesh::new(&[yard, wall].concat(), &[0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7])?;
//! let tuning = Tuning::walker();
//! let routes = Routes::new(Survey::of(&tuning), &tuning)?;
//! let mut hero = Runner::spawn(&level, &tuning, [0.0, 0.0, 0.0])?;
//! let mut trip = Trip::new(Travel::default());
//! // A click on the yard beyond the wall, from high above.
//! match routes.pick(&level, DVec3::new(6.0, 9.0, 0.0), Vec3::NEG_Y) {
//!     Ok(place) => trip.go(place),
//!     Err(why) => println!("{why}"),
//! }
//! for _frame in 0..360 {
//!     hero.advance(1.0 / 60.0, &level, &tuning, |me| trip.drive(Intent::default(), me, &level, &routes), |_| {})?;
//! }
//! assert!(matches!(trip.take_end(), Some(TripEnd::Arrived { .. })));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
#![deny(missing_docs)]
#![forbid(unsafe_code)]

mod budget;
mod columns;
mod corner;
mod crossing;
mod ends;
mod flood;
mod frame;
mod ground;
mod legs;
mod link;
mod linking;
mod pick;
mod planning;
mod route;
mod routes;
mod search;
mod standing;
mod straighten;
mod survey;
mod surveying;
mod tile;
mod told;
mod travel;
mod trip;
mod walk;

pub use link::{LinkKind, Script};
pub use pick::NoPlace;
pub use planning::Planning;
pub use route::{By, Leg, Route, Short};
pub use routes::{Routes, Surveyed};
pub use search::Grid;
pub use survey::{Survey, SurveyError};
pub use travel::{AfterLast, Stop, Travel, TripEnd};
pub use trip::Trip;
