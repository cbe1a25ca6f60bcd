//! Courses, tunings, traces and files, from outside: one program, as its parts need much that is built in.

mod corpus;
mod documented;
mod measured;
mod proving;
mod rounds;
mod saving;
mod scripts;
mod tile_maps;
mod warnings;
