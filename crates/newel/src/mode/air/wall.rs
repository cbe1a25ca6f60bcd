//! Walls in the air: what is pressed against, and what is near enough to jump off.

use crate::contact::point::Contact;
use crate::phase::Phase;
use crate::run::Run;

/// A wall leans by at most this much, as the sine of the angle.
const UPRIGHT: f32 = 0.2;

/// How much of the heading must lead into a wall to press against it.
const PRESSING: f32 = 0.25;

/// Whether it is upright enough to be a wall and no slope.
pub(super) fn is_wall(run: &Run<'_>, contact: &Contact) -> bool {
    contact.normal.dot(run.me.up).abs() < UPRIGHT
}

/// True where it slides down a wall: falling along one that its heading leads into, and in the middle of nothing else.
pub(super) fn slides(run: &Run<'_>) -> bool {
    let tuned = run.tuning.values().wall_slide.is_some() && run.modifiers.can_use_walls;
    let busy = run.me.phase_left > 0.0 || run.me.phase.is_rising() || run.me.phase == Phase::Dash;
    let falling = !busy && run.me.velocity.dot(run.up()) <= 0.0;
    let heading = run.heading_flat();
    let pressed = |wall: &Contact| is_wall(run, wall) && heading.dot(wall.normal) < -PRESSING;
    tuned && falling && run.walls.iter().any(pressed)
}

/// The nearest wall that can be jumped off, if that is tuned.
pub(in crate::mode) fn in_reach(run: &mut Run<'_>) -> Option<Contact> {
    let reach = run.tuning.values().wall_jump.filter(|_| run.modifiers.can_use_walls)?.reach;
    run.near.touch(reach);
    let walls = run.near.contacts.iter().filter(|c| is_wall(run, c));
    walls.copied().reduce(|a, b| if b.gap < a.gap { b } else { a })
}
