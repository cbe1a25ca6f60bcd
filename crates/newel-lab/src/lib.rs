//! Courses, traces and pictures for tuning characters moved by [`newel`].
//!
//! A [`Course`] is a TOML file: terrain, where the character starts, its tuning, a script of what the player does, and
//! what is expected. [`run`] plays it; the [`Trace`] holds every tick, the [`Summary`] what a person wants to know.
//!
//! ```no_run
//! use newel_lab::{Course, Summary, run};
//! let course = Course::load("demo/courses/gull-rock.toml")?;
//! let trace = run(&course, |_part| {})?;
//! println!("{}", Summary::of(&trace));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

pub mod audit;
mod course;
mod error;
mod explained;
mod judge;
mod long_list;
pub mod measure;
mod mesh_file;
mod names;
mod output;
pub mod picture;
pub mod proving;
mod reader;
mod run;
mod summary;
mod tile_map;
mod trace;
mod warnings;

pub use course::{Course, Drive, Expectation, Expected, Moment, Planned, Scene, Script, Step, Take, Told, read_tuning};
pub use error::{FileError, Place};
pub use explained::{Explained, explain};
pub use judge::{Verdict, judge};
pub use mesh_file::{MeshFile, read as read_mesh};
pub use names::{EVENT_NAMES, event_name};
pub use output::write_whole;
pub use run::run;
pub use summary::Summary;
pub use tile_map::TileMap;
pub use trace::{Row, Trace};
pub use warnings::{Warning, course_warnings, tuning_warnings};
