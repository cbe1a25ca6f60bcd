//! How far a corner of a route can be cut: as far as the straight way from before it to behind it, and on from there, can be walked.

use newel::Stance;
use newel::glam::DVec3;

use crate::budget::OutOfBudget;
use crate::ground::Look;
use crate::route::{By, Route};
use crate::walk::Walk;

/// How far corners are tried to be cut, metres; the last one sliding along what is in the way there.
const CUTS: [f64; 5] = [1.6, 0.8, 0.4, 0.2, SLIDES_ROUND];
const SLIDES_ROUND: f64 = 0.4;
/// The number of the cut that slides.
const SLIDES: usize = 4;

/// A corner being looked at.
#[derive(Clone, Default)]
pub(crate) struct Rounding {
    /// Cuts tried in vain.
    tried: usize,
    /// On from behind the corner.
    onward: Option<Walk>,
}

impl Rounding {
    /// Goes on with the corner before a leg: how far it can be cut, metres.
    pub fn work(&mut self, look: &mut Look<'_>, route: &Route, n: usize) -> Result<f64, OutOfBudget> {
        let frame = look.frame();
        let before = if n == 1 { route.from } else { route.legs[n - 2].to };
        let [leg, next] = [route.legs[n - 1], route.legs[n]];
        let (By::Walking(one), By::Walking(two)) = (leg.by, next.by) else { return Ok(0.0) };
        let ways = [before - leg.to, next.to - leg.to];
        let shorter = ways.map(|way| 0.5 * frame.across(way, DVec3::ZERO)).into_iter().fold(f64::INFINITY, f64::min);
        while self.tried < CUTS.len() {
            let cut = CUTS[self.tried];
            if cut <= shorter {
                look.legs.budget.check()?;
                let ends = ways.map(|way| leg.to + way * (cut / frame.across(way, DVec3::ZERO)));
                if self.onward.is_none() {
                    self.onward = cuts(look, ends, one.max(two), self.tried == SLIDES, next.to);
                }
                let leads = match &mut self.onward {
                    Some(walk) => walk.work(look)?.is_some(),
                    None => false,
                };
                self.onward = None;
                if leads {
                    return Ok(cut);
                }
            }
            self.tried += 1;
        }
        Ok(0.0)
    }
}

/// The walk on from behind a corner, where it can be cut so.
fn cuts(look: &mut Look<'_>, [from, to]: [DVec3; 2], stance: Stance, slides: bool, next: DVec3) -> Option<Walk> {
    let mut who = look.legs.stand_as(from, 0.05, &[stance])?;
    let there = if slides { look.legs.go(&mut who, to - from).then_some(who) } else { look.legs.walk_on(&who, to) }?;
    Some(Walk::new(look, &there, next, 0.0))
}
