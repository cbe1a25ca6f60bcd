//! Holds back a carrier whose rider could not follow.

use glam::DVec3;

use super::Member;
use super::among::Among;
use super::snapshot::Snapshot;
use super::stack::Stacks;
use crate::step::Tick;
use crate::workspace::Workspace;

/// Holds back those of a rank whom somebody who stands on them, or on one of those, could not follow; true if there are any.
pub(super) fn hold_back<'a, M: 'a>(
    (all, stacks): (&Snapshot, &mut Stacks),
    rank: u32,
    members: &'a [Member<M>],
    tick: impl Fn(&'a Member<M>) -> Tick<'a>,
    work: &mut Workspace,
) -> bool {
    let mut any = false;
    for n in 0..stacks.carried.len() {
        let (upper, lower) = stacks.carried[n];
        let Some(ended) = stacks.ended[lower].filter(|_| stacks.ranks[lower] == rank) else { continue };
        let by = ended.state.position - all.one(lower).feet;
        if by == DVec3::ZERO && ended.grown <= 0.0 {
            continue;
        }
        let up = all.seen(lower).up;
        let rise = up * by.dot(up).max(0.0);
        let follows = |one: usize, work: &mut Workspace| {
            let (tick, state) = (tick(&members[one]), &members[one].character.state);
            let among = Among { terrain: tick.terrain, snapshot: all, stacks, me: one, dt: tick.dt, alone: true };
            work.forget(state.position);
            let (mut near, _) = work.lend(&among, tick.when(), tick.figure(state), state.position);
            // What it leaves behind, and what it slides past, is no matter; how far it gets is.
            near.push(rise.as_vec3()).0 >= 1.0 && near.push((by - rise).as_vec3()).0 >= 1.0
        };
        let free = ended.grown <= 0.0 && stacks.on_top_of(upper).into_iter().all(|one| follows(one, work));
        stacks.held[lower] |= !free;
        any |= !free;
    }
    any
}
