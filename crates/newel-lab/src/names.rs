//! Names of modes and events in courses, traces and reports.

use newel::{Ability, EventKind, Mode, Refusal};

/// Name of a refusal: which ability, and why not.
pub fn refusal_words(ability: Ability, why: Refusal) -> String {
    format!("no {}: {}", format!("{ability:?}").to_lowercase(), why.words())
}

/// The name of a kind of event, as traces, courses and reports use it.
pub fn event_name(kind: &EventKind) -> &'static str {
    match kind {
        EventKind::Jumped { .. } => "jumped",
        EventKind::Buffered => "buffered",
        EventKind::Refused { .. } => "refused",
        EventKind::Dashed => "dashed",
        EventKind::DashEnded => "dash_ended",
        EventKind::StanceChanged { .. } => "stance_changed",
        EventKind::NoRoom { .. } => "no_room",
        EventKind::SlideBegan { .. } => "slide_began",
        EventKind::SlideEnded { .. } => "slide_ended",
        EventKind::HoverBegan => "hover_began",
        EventKind::HoverEnded => "hover_ended",
        EventKind::ClimbBegan { .. } => "climb_began",
        EventKind::ClimbEnded { .. } => "climb_ended",
        EventKind::Caught { .. } => "caught",
        EventKind::PulledUp { .. } => "pulled_up",
        EventKind::Vaulted { .. } => "vaulted",
        EventKind::LetDown { .. } => "let_down",
        EventKind::LedgeLeft { .. } => "ledge_left",
        EventKind::Splashed { .. } => "splashed",
        EventKind::SwimBegan => "swim_began",
        EventKind::SwimEnded => "swim_ended",
        EventKind::WentUnder => "went_under",
        EventKind::Surfaced { .. } => "surfaced",
        EventKind::CustomBegan => "custom_began",
        EventKind::CustomEnded => "custom_ended",
        EventKind::CustomTold { .. } => "custom_told",
        EventKind::DroppedThrough { .. } => "dropped_through",
        EventKind::Footstep { .. } => "footstep",
        EventKind::Nudged { .. } => "nudged",
        EventKind::GridStep { .. } => "grid_step",
        EventKind::Topped => "topped",
        EventKind::Landed { .. } => "landed",
        EventKind::LeftGround { .. } => "left_ground",
        EventKind::Stepped { .. } => "stepped",
        EventKind::Bumped { .. } => "bumped",
        EventKind::HitWall { .. } => "hit_wall",
        EventKind::GravityTurned { .. } => "gravity_turned",
        EventKind::Righted => "righted",
        EventKind::Launched => "launched",
        EventKind::Teleported => "teleported",
        EventKind::PushedOut { .. } => "pushed_out",
        EventKind::Crushed { .. } => "crushed",
        EventKind::SensorEntered { .. } => "sensor_entered",
        EventKind::SensorLeft { .. } => "sensor_left",
        EventKind::Stuck => "stuck",
        EventKind::TimeDropped { .. } => "time_dropped",
        _ => "other",
    }
}

/// Kinds of events by the names that traces, courses and reports use.
pub const EVENT_NAMES: [&str; 46] = [
    "jumped",
    "buffered",
    "refused",
    "dashed",
    "dash_ended",
    "stance_changed",
    "no_room",
    "slide_began",
    "slide_ended",
    "hover_began",
    "hover_ended",
    "climb_began",
    "climb_ended",
    "caught",
    "pulled_up",
    "vaulted",
    "let_down",
    "ledge_left",
    "splashed",
    "swim_began",
    "swim_ended",
    "went_under",
    "surfaced",
    "custom_began",
    "custom_ended",
    "custom_told",
    "dropped_through",
    "footstep",
    "nudged",
    "grid_step",
    "topped",
    "landed",
    "left_ground",
    "stepped",
    "bumped",
    "hit_wall",
    "gravity_turned",
    "righted",
    "launched",
    "teleported",
    "pushed_out",
    "crushed",
    "sensor_entered",
    "sensor_left",
    "stuck",
    "time_dropped",
];

/// The name of a mode, as traces and reports use it.
pub(crate) fn mode_name(mode: Mode) -> &'static str {
    match mode {
        Mode::Ground => "ground",
        Mode::Air => "air",
        Mode::Slide => "slide",
        Mode::Hover => "hover",
        Mode::Climb => "climb",
        Mode::Ledge => "ledge",
        Mode::Swim => "swim",
        Mode::Custom => "custom",
        _ => "other",
    }
}

/// Every mode there is.
pub(crate) const MODES: [Mode; 8] = Mode::ALL;
