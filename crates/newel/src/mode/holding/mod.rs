//! Holding on by the hands: what climbing and hanging from a ledge have in common.

mod creep;
mod frame;
mod leave;
mod round;
mod still;

pub(super) use creep::{Creep, Crept, anything, creep, creep_freely, gives_hold, press, touched};
pub(super) use frame::Frame;
pub(super) use leave::{end, interrupt, jump_off};
pub(super) use round::goes_round;
pub(super) use still::{or_rest, still};

use glam::Vec3;

use super::{climb, impact, ledge};
use crate::contact::point::Contact;
use crate::drive::heading::{Bearings, Heading};
use crate::math::{direction, flatten};
use crate::outcome::{Ability, EventKind, HoldEnd, Refusal};
use crate::phase::{Mode, Phase};
use crate::run::Run;
use crate::stance::Stance;
use crate::support::{Ground, Support};

/// True where so much of a heading leads into something that it is within a cone about it, degrees.
pub(super) fn is_within(cone: f32, into: f32) -> bool {
    into >= libm::cosf(cone.to_radians()) - 1e-4
}

/// Acts on what is new while it holds on; and looks for something to hold on to, or to get up onto, at the moments of the grid
/// and where the grab button was pressed.
pub(super) fn decide(run: &mut Run<'_>, pressed: bool) {
    if run.me.mode.holds_on() {
        if pressed && !run.me.phase.is_ledge_move() {
            return end(run, HoldEnd::LetGo);
        }
        match run.me.mode {
            Mode::Climb => climb::decide(run),
            _ => ledge::decide(run),
        }
        return;
    }
    let taken = (pressed || (run.on_grid && run.may_take_hold()))
        && (ledge::seek(run) || climb::seek(run, pressed) || (pressed && ledge::let_down(run)));
    if pressed && !taken {
        let values = run.tuning.values();
        let why = match values.climb.is_some() || values.ledge.is_some() {
            false => Refusal::NotTuned,
            true if !run.modifiers.can_climb && !run.modifiers.can_use_ledges => Refusal::SwitchedOff,
            true if run.is_locked() => Refusal::Locked,
            true => Refusal::NoHold,
        };
        run.report(EventKind::Refused { ability: Ability::Grab, why });
    }
}

impl Run<'_> {
    /// True where it may take hold of something, as far as itself is concerned.
    pub fn may_take_hold(&self) -> bool {
        let ready = self.me.stance == Stance::Stand && self.me.axis == self.me.up && self.displaced.is_none();
        let busy = self.is_locked() || matches!(self.me.phase, Phase::Dash | Phase::LetGo) || self.is_sliding();
        ready
            && !busy
            && matches!(self.me.mode, Mode::Ground | Mode::Air | Mode::Swim)
            && !self.me.keeps.is_top_view(self.me.up)
    }

    /// True where what it might take hold of is looked for at the moments of the grid.
    pub fn seeks_hold(&self) -> bool {
        let values = self.tuning.values();
        let tuned = values.climb.is_some() || values.ledge.is_some() || values.vault.is_some();
        tuned && self.heading.is_any() && self.may_take_hold() && {
            let in_air = self.me.mode == Mode::Air && values.ledge.is_some();
            in_air || self.walls.iter().next().is_some() || !self.near.patch.zones().is_empty()
        }
    }

    /// Where it wants to go along a surface: to the right and up as seen by who faces it, each at most one.
    pub fn heading_along(&self, frame: &Frame) -> (f32, f32) {
        let (right, up) = (frame.right.as_vec3(), frame.up.as_vec3());
        match self.heading {
            Heading::Surface(by) => self.tuning.values().stick.shaped(by).into(),
            Heading::Plane(by) if self.me.keeps.is_plane() => {
                let bearings = Bearings::of(&self.me, self.view, self.tuning);
                if self.faces_viewer(frame) {
                    let way = bearings.on_screen(by);
                    return (way.dot(right), way.dot(up));
                }
                // Seen from its side only up and down act; and what leads into it leads up it, as anywhere.
                let (level, upright) = (self.heading_flat(), bearings.along_screen(by, up));
                let into = level.dot(frame.ahead());
                (level.dot(right), if upright.abs() >= into.abs() { upright } else { into })
            }
            _ => {
                let flat = self.heading_flat();
                (flat.dot(right), flat.dot(frame.ahead()))
            }
        }
    }

    /// The same along what leads only up and down.
    pub fn heading_up(&self, frame: &Frame) -> f32 {
        match self.heading {
            Heading::Plane(by) if self.me.keeps.is_plane() && self.faces_viewer(frame) => {
                Bearings::of(&self.me, self.view, self.tuning).along_screen(by, frame.up.as_vec3())
            }
            _ => self.heading_along(frame).1,
        }
    }

    /// True where whoever looks at its plane looks at the surface.
    fn faces_viewer(&self, frame: &Frame) -> bool {
        self.me.keeps.normal.dot(frame.ahead()).abs() > 0.5
    }

    /// How much of its heading leads into what has this frame, as a cosine; `None` without a heading.
    pub fn leads_into(&self, frame: &Frame) -> Option<f32> {
        let (right, ahead) = match self.heading {
            Heading::Surface(_) => self.heading_along(frame),
            Heading::Plane(_) if self.faces_viewer(frame) => self.heading_along(frame),
            _ => {
                let flat = self.heading_flat();
                (flat.dot(frame.right.as_vec3()), flat.dot(frame.ahead()))
            }
        };
        let length = (right * right + ahead * ahead).sqrt();
        (length > 1e-6).then(|| ahead / length)
    }

    /// Holds on to what `contact` touches from now on.
    pub(in crate::mode) fn hold_on_to(&mut self, contact: &Contact) {
        let body = self.near.patch.body(contact.body).id;
        let point = self.near.patch.origin() + contact.point.as_dvec3();
        self.hold_on_at(Ground {
            point,
            normal: contact.normal,
            surface: contact.surface,
            support: Support::Held,
            body,
        });
    }

    /// The same as the state keeps it; and what a swimmer is in. A new body carries the character from now on.
    pub(in crate::mode) fn hold_on_at(&mut self, held: Ground) {
        let before = self.ground.body;
        self.ground = held;
        if held.body != before || self.ride.is_some() != (held.body != 0) {
            let velocity = self.me.velocity + self.carried;
            self.board();
            self.me.velocity = velocity - self.carried;
        }
    }

    /// Holds on to a box that holds by itself, with nothing to touch.
    pub(in crate::mode) fn hold_on_in(&mut self, frame: &Frame, surface: u16) {
        let (point, normal) = (self.near.place, frame.out.as_vec3());
        self.hold_on_at(Ground { point, normal, surface, support: Support::Held, body: 0 });
    }

    /// Something is in the way that is neither gone round nor stood on: along it.
    pub(in crate::mode) fn slide_along(&mut self, contact: &Contact) {
        impact::on_wall(self, contact);
        self.walls.refresh(&self.near);
        self.walls.add(*contact);
        self.me.velocity = self.walls.planes_against(self.carried).admissible(self.me.velocity);
    }

    /// True where what has this normal is steep enough to be climbed, and does not lean over too far.
    pub(in crate::mode) fn is_climbable(&self, normal: Vec3) -> bool {
        let Some(tuned) = self.tuning.values().climb else { return false };
        let up = normal.dot(self.me.up);
        let (most, least) = (libm::cosf(tuned.flattest.to_radians()), -libm::sinf(tuned.overhang.to_radians()));
        up <= most + 1e-4 && up >= least - 1e-4
    }

    /// The way the hands reach: along the heading, or the way it looks without one.
    pub(in crate::mode) fn reaching(&self) -> Vec3 {
        direction(self.heading_flat()).or(direction(flatten(self.me.facing, self.me.up))).unwrap_or(Vec3::ZERO)
    }
}
