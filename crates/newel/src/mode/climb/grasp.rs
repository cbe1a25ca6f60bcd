//! The surface that is climbed at present.

use glam::{DVec3, Vec3};

use crate::contact::grip::{Grip, SEAM};
use crate::contact::point::Contact;
use crate::mode::holding::{Frame, gives_hold, touched};
use crate::run::Run;
use crate::terrain::Hold;
use crate::tuning::Climb;

/// A climbed surface and its frame.
#[derive(Clone, Copy)]
pub(super) struct Grasp {
    pub frame: Frame,
    pub hold: Hold,
    /// True for a volume that holds by itself, with nothing to touch.
    pub volume: bool,
    /// How far to the right its middle is, where it is climbed in that.
    pub aside: Option<f64>,
    /// What is touched.
    contact: Option<Contact>,
}

/// A hold lasts a little further past its border than the hands move, so that rounding lets nothing go.
const TO_STAY: f32 = 2.0 * SEAM;

/// The hold that the hands can move to or take at this contact.
pub(super) fn holds(run: &mut Run<'_>, tuned: &Climb, contact: &Contact) -> Option<Grip> {
    held(run, tuned, contact, SEAM)
}

fn held(run: &mut Run<'_>, tuned: &Climb, contact: &Contact, seam: f32) -> Option<Grip> {
    let hands = run.near.hands(tuned.hands);
    let steep = run.is_climbable(contact.normal);
    if !steep || !run.near.gives_hold(contact) {
        return None;
    }
    // A wider seam may also meet what is beside it.
    run.near.grip(hands, contact, SEAM, seam).or_else(|| run.near.grip(hands, contact, seam, seam))
}

/// The present hold, if it still exists.
pub(super) fn current(run: &mut Run<'_>, tuned: &Climb) -> Option<Grasp> {
    let hands = run.near.hands(tuned.hands);
    if let Some((grip, out, zone)) = run.near.volume_at(hands, TO_STAY) {
        let frame = Frame::on(out, run.up())?;
        let middle = 0.5 * (zone.min + zone.max) - run.near.patch.origin() - hands.as_dvec3();
        let aside = (grip.hold == Hold::Ladder).then(|| run.me.keeps.flat64(frame.right).dot(middle));
        run.hold_on_in(&frame, grip.surface);
        return Some(Grasp { frame, hold: grip.hold, volume: true, aside, contact: None });
    }
    let contact = touched(run, run.ground.normal, gives_hold)?;
    let grip = held(run, tuned, &contact, TO_STAY)?;
    let frame = Frame::on(contact.normal, run.up())?;
    run.hold_on_to(&contact);
    let hands = run.near.hands(tuned.hands);
    let aside =
        (grip.hold == Hold::Ladder).then(|| f64::from(run.near.ladder_middle(hands, &contact, frame.right.as_vec3())));
    Some(Grasp { frame, hold: grip.hold, volume: false, aside, contact: Some(contact) })
}

impl Grasp {
    /// Whether there would be hold for hands this much further on.
    pub fn reaches(&self, run: &mut Run<'_>, tuned: &Climb, by: Vec3) -> bool {
        let hands = run.near.hands(tuned.hands) + by;
        match &self.contact {
            None => run.near.volume_at(hands, SEAM).is_some(),
            Some(contact) => run.near.grip(hands, contact, SEAM, SEAM).is_some(),
        }
    }

    /// How high the feet are over where the rungs are counted from: the middle of what is climbed, as it moves.
    pub fn height(&self, run: &Run<'_>) -> f64 {
        let from = run.ride.map_or(DVec3::ZERO, |ride| ride.body.pose(run.near.time()).carry(ride.body.place));
        (run.near.place - from).dot(run.up())
    }
}
