//! Sweeps against an oracle in double precision: right in the backward sense, over random and degenerate cases.

#[path = "../../tests/behaviour/common/oracle.rs"]
#[allow(dead_code)]
mod oracle;

use glam::{DVec3, Vec3};

use self::oracle::{Dice, segment_to_segment, segment_to_triangle};
use super::*;
use crate::contact::arcs::smooth_span;
use crate::terrain::Body;

/// One random sweep of a core against one obstacle, which may be moving.
struct Case {
    core: Core,
    facet: Facet,
    /// With a radius the obstacle is the facet's first edge, rounded.
    rounded: Option<f32>,
    body: Body,
    path: Path,
    tolerance: f32,
}

impl Case {
    fn roll(dice: &mut Dice) -> Option<Case> {
        let facet = random_facet(dice)?;
        let radius = dice.magnitude(0.02, 1.0);
        let axis = dice.direction() * (dice.between(-0.2, 2.0).max(0.0) * radius);
        let mut low = near_facet(dice, &facet);
        // Most cases start close by or in touch: that is where sweeps go wrong.
        let gap = match dice.pick(5) {
            0 => 0.0,
            1 => dice.between(-0.03, 0.0) * radius,
            2 => dice.magnitude(1e-6, 1e-3),
            _ => dice.magnitude(1e-3, 2.0),
        };
        let away = dice.direction();
        low += away * (radius + gap);
        for _ in 0..6 {
            // Newton along the way out: to the gap that was rolled, where there is one.
            let off = segment_to_triangle(low, low + axis, corners(&facet)) - radius - gap;
            low -= away * off * 0.9;
        }
        let speed = dice.magnitude(1e-3, 1000.0);
        let span = dice.magnitude(1e-3, 0.25).min(4.0 / speed);
        let rate = if dice.pick(2) == 0 { 0.0 } else { dice.magnitude(1e-2, 100.0) };
        let way = match dice.pick(4) {
            // Along the facet, or all but along it: grazing.
            0 => facet.normal.as_dvec3().cross(dice.direction()),
            1 => facet.normal.as_dvec3().cross(dice.direction()) + dice.direction() * 1e-4,
            _ => dice.direction(),
        };
        let path = Path { velocity: way * speed, rate: dice.direction() * rate, span };
        let core = Core { low: low.as_vec3(), high: (low + axis).as_vec3(), radius: radius as f32 };
        let rounded = (dice.pick(4) == 0).then(|| dice.magnitude(1e-3, 0.5) as f32);
        let mut case = Case { core, facet, rounded, body: random_body(dice), path, tolerance: 5e-6 };
        if rounded.is_some() && case.gap(0.0) < 0.0 {
            case.rounded = None;
        }
        // A turning body is swept in spans for which its arcs are exact, as in a tick.
        case.path.span = smooth_span(&[core], &case.path, &case.patch(), 5e-6).min(span);
        Some(case)
    }

    fn gap(&self, t: f64) -> f64 {
        let moved = self.path.at(t);
        let (low, high) = (self.core.low.as_dvec3() + moved, self.core.high.as_dvec3() + moved);
        let pose = self.body.pose(t);
        let [a, b, c] = corners(&self.facet).map(|corner| pose.carry(corner));
        let distance = match self.rounded {
            Some(radius) => segment_to_segment(low, high, a, b) - f64::from(radius),
            None => segment_to_triangle(low, high, [a, b, c]),
        };
        distance - f64::from(self.core.radius)
    }

    fn patch(&self) -> Patch {
        let mut patch = Patch::default();
        patch.reset(DVec3::ZERO, Vec3::splat(-9.0), Vec3::splat(9.0));
        let body = patch.add_body(self.body);
        let Facet { a, b, .. } = self.facet;
        match self.rounded {
            Some(radius) => patch.add_round(Round { a, b, radius, surface: 0, body, id: 0 }),
            None => patch.add_facet(Facet { body, ..self.facet }),
        }
        patch.take_note();
        patch
    }

    /// Resolution of single precision at this distance from the origin.
    fn slack(&self) -> f64 {
        let (least, most) = self.facet.bounds();
        let far = least.abs().max(most.abs()).max(self.core.low.abs()).max_element();
        // Arcs of a turning body may be off by the tolerance.
        let arcs = if self.body.is_still() { 0.0 } else { 1e-5 };
        f64::from(far) * 1e-6 + 1e-5 + arcs
    }

    fn check(&self) -> Result<(), String> {
        let start = self.gap(0.0);
        if start < -0.031 * f64::from(self.core.radius) {
            return Ok(());
        }
        let hit = first_hit(
            &[self.core],
            (&self.path, self.path.span as f32),
            &self.patch(),
            self.tolerance,
            Against::Moving,
        );
        let (slack, floor) = (self.slack(), start.min(0.0));
        let end = hit.as_ref().map_or(self.path.span, |h| f64::from(h.time));
        for i in 0..=32 {
            let t = end * f64::from(i) / 32.0;
            if self.gap(t) < floor - slack {
                return Err(format!("{:e} deep at {t:e} of {end:e} s", self.gap(t)));
            }
        }
        let Some(hit) = hit else { return Ok(()) };
        let gap = self.gap(end);
        // A touch is at the surface, or where it began deeper, no higher than it began.
        if (gap - floor).abs() > slack {
            return Err(format!("stopped at a gap of {gap:e}, having begun at {start:e}"));
        }
        let pose = self.body.pose(end);
        let touch = pose.carry(hit.closest.on_obstacle.as_dvec3());
        let (own, its) = (self.path.velocity_at(end), self.body.velocity_at(touch, end));
        let leaving = (own - its).dot(pose.turn(hit.closest.normal.as_dvec3()));
        // A start under the surface of a turning body is judged at the present pose.
        let spin = self.body.spin.length() * 1e-3;
        if leaving > 1e-6 * (own.length() + its.length()) + spin {
            return Err(format!("stopped while leaving at {leaving:e} m/s"));
        }
        Ok(())
    }
}

/// The world as often as not, or something that glides, and may turn.
fn random_body(dice: &mut Dice) -> Body {
    let velocity = dice.direction() * dice.magnitude(1e-2, 30.0);
    let spin = dice.direction() * dice.magnitude(1e-2, 10.0);
    let place = dice.direction() * dice.magnitude(0.1, 5.0);
    match dice.pick(4) {
        0 => Body { velocity, ..Body::still(1, place) },
        1 => Body { velocity, spin, ..Body::still(1, place) },
        _ => Body::WORLD,
    }
}

fn corners(facet: &Facet) -> [DVec3; 3] {
    [facet.a, facet.b, facet.c].map(|p| p.as_dvec3())
}

fn random_facet(dice: &mut Dice) -> Option<Facet> {
    let size: f64 = [0.02, 0.5, 3.0, 60.0][dice.pick(4)];
    let a = dice.direction() * dice.between(0.0, size.min(3.0));
    let b = a + dice.direction() * size;
    // Squat, ordinary, and needles down to a ten-thousandth of their length.
    let c = match dice.pick(3) {
        0 => a + (b - a) * dice.unit() + dice.direction() * (size * dice.magnitude(1e-4, 1e-2)),
        _ => a + dice.direction() * size,
    };
    Facet::new(a.as_vec3(), b.as_vec3(), c.as_vec3())
}

/// A point on or about the facet: its corners and edges as often as its inside, within reach of the origin.
fn near_facet(dice: &mut Dice, facet: &Facet) -> DVec3 {
    let [a, b, c] = corners(facet);
    let reach = (3.0 / (b - a).length().max((c - a).length()).max(1e-9)).min(1.0);
    let (mut u, mut v) = (dice.unit() * reach, dice.unit() * reach);
    match dice.pick(4) {
        0 => v = 0.0,
        1 => (u, v) = (0.0, 0.0),
        _ => {}
    }
    a + (b - a) * u + (c - a) * v
}

/// How many cases: a million in the optimised test profile takes some seconds.
const CASES: u64 = 1_000_000;

#[test]
fn a_million_sweeps_end_on_the_surface_and_never_under_it() {
    let mut failures = Vec::new();
    for seed in 0..CASES {
        let Some(case) = Case::roll(&mut Dice(seed)) else { continue };
        if let Err(why) = case.check() {
            failures.push(format!("seed {seed}: {why}"));
        }
    }
    assert!(failures.is_empty(), "{} of {CASES}:\n{}", failures.len(), failures[..failures.len().min(12)].join("\n"));
}
