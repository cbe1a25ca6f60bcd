//! The optional tables of a tuning, made with their defaults where a field of theirs is written.

use super::climb::{Climb, Ledge, Vault};
use super::hover::Hover;
use super::stances::{LowStance, Slide};
use super::swim::Swim;
use super::values::{Dash, Jump, Sprint, TuningValues, WallJump, WallSlide};

pub fn jump(values: &mut TuningValues) -> &mut Jump {
    values.jump.get_or_insert_with(Jump::default)
}
pub fn sprint(values: &mut TuningValues) -> &mut Sprint {
    values.sprint.get_or_insert_with(Sprint::default)
}
pub fn hover(values: &mut TuningValues) -> &mut Hover {
    values.hover.get_or_insert_with(Hover::default)
}
pub fn climb(values: &mut TuningValues) -> &mut Climb {
    values.climb.get_or_insert_with(Climb::default)
}
pub fn ledge(values: &mut TuningValues) -> &mut Ledge {
    values.ledge.get_or_insert_with(Ledge::default)
}
pub fn vault(values: &mut TuningValues) -> &mut Vault {
    values.vault.get_or_insert_with(Vault::default)
}
pub fn wall_slide(values: &mut TuningValues) -> &mut WallSlide {
    values.wall_slide.get_or_insert_with(WallSlide::default)
}
pub fn wall_jump(values: &mut TuningValues) -> &mut WallJump {
    values.wall_jump.get_or_insert_with(WallJump::default)
}
pub fn dash(values: &mut TuningValues) -> &mut Dash {
    values.dash.get_or_insert_with(Dash::default)
}

pub fn swim(values: &mut TuningValues) -> &mut Swim {
    values.swim.get_or_insert_with(Swim::default)
}

pub fn crouch(values: &mut TuningValues) -> &mut LowStance {
    values.crouch.get_or_insert_with(LowStance::crouch)
}
pub fn prone(values: &mut TuningValues) -> &mut LowStance {
    values.prone.get_or_insert_with(LowStance::prone)
}
pub fn slide(values: &mut TuningValues) -> &mut Slide {
    values.slide.get_or_insert_with(Slide::default)
}
