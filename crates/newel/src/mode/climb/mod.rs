//! Climbing: velocity ramps toward the heading in the frame of what is held, up, down and sideways.

mod grasp;
mod seek;
mod wanted;

pub(super) use seek::{meets, seek, takes_over, would_hold};

use glam::DVec3;

use self::grasp::Grasp;
use super::holding::{self, Creep, Crept, Frame, creep, gives_hold, or_rest, still};
use super::ledge;
use crate::contact::grip::SEAM;
use crate::contact::point::Contact;
use crate::outcome::HoldEnd;
use crate::phase::Phase;
use crate::run::{HARDLY, Run};
use crate::tuning::Climb;

/// How far ahead it looks whether there is still hold, metres.
const AHEAD: f32 = 2e-5;

/// A speed that takes longer than this to gain, seconds, it came with.
const GAINED: f64 = 2.0 * HARDLY;

/// How far out of what it holds it looks for a floor to let itself down to, in parts of the radius.
const OUT: f32 = 0.1;

/// Ends it where it is not to be had any more, and begins and ends sliding down.
pub(super) fn decide(run: &mut Run<'_>) {
    let Some(tuned) = run.tuning.values().climb.filter(|_| run.modifiers.can_climb) else {
        return holding::interrupt(run);
    };
    let low = run.me.asked.last().is_low();
    let slides = low && tuned.slide > 0.0 && grasp::current(run, &tuned).is_some_and(|g| g.hold.is_slid_down());
    if low && run.asked_now && !slides {
        run.asked_now = false;
        return holding::end(run, HoldEnd::LetGo);
    }
    run.asked_now = false;
    run.me.phase = if slides { Phase::SlidesDown } else { Phase::Plain };
}

/// Climbs for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, span: f64) -> f64 {
    let Some(tuned) = run.tuning.values().climb else { return span };
    run.refresh_ride();
    let Some(grasp) = grasp::current(run, &tuned) else {
        holding::end(run, HoldEnd::Lost);
        return 0.0;
    };
    let wanted = wanted::wanted(run, &tuned, &grasp);
    let (along, over) = within_reach(run, &tuned, &grasp, wanted.along);
    if over && ledge::over_the_top(run, &grasp.frame, tuned.over) {
        return 0.0;
    }
    let wish = grasp.frame.along(along);
    if wish == DVec3::ZERO && run.me.velocity == DVec3::ZERO {
        let (used, met) = still(run, span);
        if let Some(contact) = met {
            touch(run, &tuned, &grasp, &contact);
        }
        return used;
    }
    let way = Creep { frame: grasp.frame, wish, rate: wanted.rate, counts: gives_hold };
    if grasp.volume {
        return through_the_air(run, &tuned, &grasp, &way, span);
    }
    let crept = creep(run, &way, span, |run, contact| grasp::holds(run, &tuned, contact).is_some());
    after(run, &tuned, &grasp, (&way, &crept), span)
}

/// After a piece of way: it stops where there is no more hold, and meets what it met. Returns the seconds used.
fn after(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp, (way, crept): (&Creep, &Crept), span: f64) -> f64 {
    let (wish, rate) = (way.wish, way.rate);
    if crept.ended {
        let before = run.me.velocity;
        stop_at_the_end(run, tuned);
        // By a hair it holds where it is and nowhere on, or the hands could go on and something beside what is held keeps the body off it.
        if crept.nowhere || run.me.velocity == before {
            let up = wish.dot(grasp.frame.up);
            if up > 0.0 && ledge::over_the_top(run, &grasp.frame, tuned.over) {
                return 0.0;
            }
            run.me.velocity = DVec3::ZERO;
            if up < 0.0 && floor_is_near(run, &grasp.frame) {
                holding::end(run, HoldEnd::Blocked);
                return crept.used;
            }
        } else if run.me.velocity == DVec3::ZERO && before.length() > rate * GAINED && crept.used > 0.0 {
            // It came here, however little of the piece that took, and so it goes on from here: up onto what begins here, say.
            return crept.used;
        }
    }
    let (used, met) = or_rest(run, crept, span);
    if let Some(contact) = met {
        touch(run, tuned, grasp, &contact);
    }
    used
}

/// Whether there is a floor a step or less below, a little out of what leans over it, to let itself down to.
fn floor_is_near(run: &mut Run<'_>, frame: &Frame) -> bool {
    let met = run.elsewhere(|run| {
        run.near.push(frame.level_out.as_vec3() * (OUT * run.near.shape.radius));
        run.near.push(run.me.up * -run.limits.step).1
    });
    met.is_some_and(|contact| run.limits.walkable(contact.normal, run.me.up))
}

/// In a volume that holds by itself: nothing to press against.
fn through_the_air(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp, way: &Creep, span: f64) -> f64 {
    let normal = grasp.frame.out.as_vec3();
    let crept = holding::creep_freely(run, way, span, |run| {
        let hands = run.near.hands(tuned.hands);
        run.near.volume_at(hands, SEAM).is_some()
    });
    run.ground.normal = normal;
    after(run, tuned, grasp, (way, &crept), span)
}

/// The part of a wish, right and up, that the hands can follow; and whether it is the top that they cannot.
fn within_reach(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp, along: (f64, f64)) -> ((f64, f64), bool) {
    let mut reach = |way: DVec3| grasp.reaches(run, tuned, way.as_vec3() * AHEAD);
    let (right, up) = along;
    let aside = if right != 0.0 && !reach(grasp.frame.right * right.signum()) { 0.0 } else { right };
    let over = up > 0.0 && !reach(grasp.frame.up);
    let up = if over || (up < 0.0 && !reach(-grasp.frame.up)) { 0.0 } else { up };
    ((aside, up), over)
}

/// As far as it goes: what of the velocity leads further is spent.
fn stop_at_the_end(run: &mut Run<'_>, tuned: &Climb) {
    let Some(grasp) = grasp::current(run, tuned) else { return };
    let parts = grasp.frame.parts(run.me.velocity);
    let (left, _) = within_reach(run, tuned, &grasp, parts);
    run.me.velocity = grasp.frame.along(left);
}

/// Something is in the way: the ground it comes down on, another side of what it climbs, or a wall.
fn touch(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp, contact: &Contact) {
    let down = (run.me.velocity + run.carried - contact.velocity).dot(run.up()) < 0.0;
    if down && run.limits.walkable(contact.normal, run.me.up) {
        return holding::end(run, HoldEnd::Ground);
    }
    if !grasp.volume && goes_round(run, tuned, grasp, contact) {
        return;
    }
    run.slide_along(contact);
}

/// Round an inside corner: onto what was met, if that gives hold and the heading leads on along it.
fn goes_round(run: &mut Run<'_>, tuned: &Climb, grasp: &Grasp, contact: &Contact) -> bool {
    let Some(frame) = Frame::on(contact.normal, run.up()) else { return false };
    let holds = |run: &mut Run<'_>, contact: &Contact| grasp::holds(run, tuned, contact).is_some();
    holding::goes_round(run, (&grasp.frame, &frame), (contact, gives_hold), false, holds)
}
