//! From where somebody stands onto the spots of the survey, and off them to where it wants to be.

use newel::glam::DVec3;
use newel::{Character, Mode};

use crate::budget::OutOfBudget;
use crate::ground::{Look, Spot};
use crate::tile::Node;

/// Ways out of the place where it stands, or into the one where it is to stand: at most so many, out of so many tried.
const ENDS: usize = 4;
const ENDS_TRIED: usize = 16;
/// And this many columns off.
const ENDS_WITHIN: i32 = 2;

/// The spots from which the end can be walked or swum to, and how long that takes.
pub(crate) fn ways_in(look: &mut Look<'_>, there: &Character) -> Result<Vec<(Spot, f64)>, OutOfBudget> {
    let mut ins = Vec::new();
    for (spot, at, node) in near(look, there.position)? {
        let stance = node.stance.max(there.stance);
        let who = look.legs.stand_as(at, 1e-3, &[stance]);
        if who.is_some_and(|who| leads(look, &who, there.position, there.mode)) {
            ins.push((spot, (at - there.position).length() / look.top_speed()));
        }
        if ins.len() == ENDS {
            break;
        }
    }
    Ok(ins)
}

/// The spots that can be walked or swum to from where it stands, and how long that takes.
pub(crate) fn ways_out(look: &mut Look<'_>, start: &Character) -> Result<Vec<(Spot, f64)>, OutOfBudget> {
    let mut outs = Vec::new();
    for (spot, at, node) in near(look, start.position)? {
        let stance = node.stance.max(start.stance);
        let who = if stance == start.stance {
            Some(start.clone())
        } else {
            look.legs.stand_as(start.position, 1e-3, &[stance])
        };
        let mode = if node.swims { Mode::Swim } else { Mode::Ground };
        if who.is_some_and(|who| leads(look, &who, at, mode)) {
            outs.push((spot, (at - start.position).length() / look.top_speed()));
        }
        if outs.len() == ENDS {
            break;
        }
    }
    Ok(outs)
}

/// Whether it comes straight to a place where it then walks or swims.
fn leads(look: &mut Look<'_>, who: &Character, to: DVec3, mode: Mode) -> bool {
    if who.mode == mode { look.legs.walk(who, to, 0.0).is_some() } else { look.legs.wades(who, to) }
}

/// The spots around a place, on its floor.
fn near(look: &mut Look<'_>, place: DVec3) -> Result<Vec<(Spot, DVec3, Node)>, OutOfBudget> {
    let (frame, reach) = (look.frame(), look.legs.step() + 2.0 * look.cell());
    let far = |at: DVec3| {
        let rise = (frame.height(at) - frame.height(place)).abs();
        (rise <= reach).then(|| frame.across(place, at) + rise)
    };
    let mut near = Vec::new();
    for (_, spot, _) in look.around(place, ENDS_WITHIN, far)?.into_iter().take(ENDS_TRIED) {
        near.extend(look.place(spot)?.map(|(at, node)| (spot, at, node)));
    }
    Ok(near)
}
