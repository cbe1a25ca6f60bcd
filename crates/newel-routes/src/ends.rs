//! From where somebody stands onto the spots of the survey, and off them to where it wants to be.

use std::collections::HashMap;

use newel::Character;
use newel::glam::DVec3;

use crate::ground::{Look, Spot};

/// Ways out of the place where it stands, or into the one where it is to stand: at most so many, out of so many tried.
const ENDS: usize = 4;
const ENDS_TRIED: usize = 16;
/// And this many columns off.
const ENDS_WITHIN: i32 = 2;

/// The spots from which the end can be walked to, and how long that takes.
pub(crate) fn ways_in(look: &mut Look<'_>, there: &Character) -> HashMap<Spot, f64> {
    let mut ins = HashMap::new();
    for (_, spot, at) in near(look, there.position).into_iter().take(ENDS_TRIED) {
        let Some((_, node)) = look.place(spot) else { continue };
        let stance = node.stance.max(there.stance);
        let who = look.legs.stand_as(at, 1e-3, &[stance]);
        if who.and_then(|who| look.legs.walk(&who, there.position, 0.0)).is_some() {
            ins.insert(spot, (at - there.position).length() / look.top_speed());
        }
        if ins.len() == ENDS {
            break;
        }
    }
    ins
}

/// The spots around a place, on its floor.
fn near(look: &mut Look<'_>, place: DVec3) -> Vec<(f64, Spot, DVec3)> {
    let (frame, reach) = (look.frame(), look.legs.step() + 2.0 * look.cell());
    let far = |at: DVec3| {
        let rise = (frame.height(at) - frame.height(place)).abs();
        (rise <= reach).then(|| frame.across(place, at) + rise)
    };
    look.around(place, ENDS_WITHIN, far)
}

/// The spots that can be walked to from where it stands, and how long that takes.
pub(crate) fn ways_out(look: &mut Look<'_>, start: &Character) -> Vec<(Spot, f64)> {
    let mut outs = Vec::new();
    for (_, spot, at) in near(look, start.position).into_iter().take(ENDS_TRIED) {
        let Some((_, node)) = look.place(spot) else { continue };
        let stance = node.stance.max(start.stance);
        let who =
            if stance == start.stance { Some(*start) } else { look.legs.stand_as(start.position, 1e-3, &[stance]) };
        if who.and_then(|who| look.legs.walk(&who, at, 0.0)).is_some() {
            outs.push((spot, (at - start.position).length() / look.top_speed()));
        }
        if outs.len() == ENDS {
            break;
        }
    }
    outs
}
