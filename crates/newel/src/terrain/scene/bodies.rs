//! The named bodies of a scene: where they are at which tick, and which are near.

use core::ops::Range;
use std::collections::HashMap;

use glam::{DQuat, DVec3};

use super::solid::Solid;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::terrain::body::turning;
use crate::terrain::cells::{Cell, Cells};
use crate::terrain::{Body, Track, When};

/// A place, metres, and an orientation, a unit quaternion from the body's own axes to the world's.
pub(super) type Pose = (DVec3, DQuat);

#[derive(Clone, Debug)]
pub(super) struct Named {
    pub id: u64,
    pub solid: Solid,
    how: How,
    /// A ball that it never leaves.
    middle: DVec3,
    radius: f64,
    /// A hash of its track, or of its resting place.
    print: u64,
}

#[derive(Clone, Debug)]
enum How {
    /// From one pose to another, evenly from the start of the first of these ticks to the end of the last.
    Between {
        from: Pose,
        to: Pose,
        ticks: Range<u64>,
    },
    Along(Track),
}

/// All of them. Found by name, and by where they are.
#[derive(Clone, Debug, Default)]
pub(super) struct Bodies {
    all: Vec<Named>,
    by_id: HashMap<u64, u32>,
    cells: Cells,
    tracks: usize,
}

/// A summary of the bodies that can reach into a box.
#[derive(Clone, Copy, Default)]
pub(super) struct Near {
    /// The sum of the prints: equal for the same bodies at the same places or on the same tracks.
    pub print: u64,
    /// True if one of them has a track.
    pub has_track: bool,
    /// True if the game is moving one of them.
    pub is_moved: bool,
}

impl Near {
    /// Adds a body as of tick `number`.
    fn count(&mut self, named: &Named, number: u64) {
        self.print = self.print.wrapping_add(named.print);
        match &named.how {
            How::Along(_) => self.has_track = true,
            How::Between { ticks, .. } => self.is_moved |= number < ticks.end,
        }
    }
}

impl Named {
    fn new(id: u64, solid: Solid, how: How) -> Named {
        let places: Vec<DVec3> = match &how {
            How::Between { from, to, .. } => vec![from.0, to.0],
            How::Along(track) => track.places().collect(),
        };
        let low = places.iter().copied().reduce(DVec3::min).unwrap_or_default();
        let high = places.iter().copied().reduce(DVec3::max).unwrap_or_default();
        let radius = 0.5 * (high - low).length() + solid.reach();
        let named = Named { id, solid, how, middle: 0.5 * (low + high), radius, print: 0 };
        Named { print: named.printed(), ..named }
    }

    fn cell(&self) -> Cell {
        Cell::of(self.middle, self.radius)
    }

    pub fn has_track(&self) -> bool {
        matches!(self.how, How::Along(_))
    }

    /// Where it is when tick `number` begins, at `time` in the scene.
    pub fn pose(&self, number: u64, time: f64) -> Pose {
        match &self.how {
            How::Along(track) => track.pose(time),
            How::Between { from, ticks, .. } if number <= ticks.start => *from,
            How::Between { to, ticks, .. } if number >= ticks.end => *to,
            How::Between { from, to, ticks } => {
                let part = (number - ticks.start) as f64 / (ticks.end - ticks.start) as f64;
                let turn = turning::between(from.1, to.1) * part;
                (from.0 + (to.0 - from.0) * part, turning::onward(from.1, turn))
            }
        }
    }

    /// How it moves in a tick that begins at `start` in the scene.
    pub fn body(&self, when: When, start: f64) -> Body {
        let (from, to) = (self.pose(when.number, start), self.pose(when.number.saturating_add(1), start + when.span));
        Body { belt: self.solid.belt, ..Body::between(self.id, from, to, when.span) }
    }

    /// True where it may reach into a box.
    pub fn is_near(&self, low: DVec3, high: DVec3) -> bool {
        self.is_within(self.radius, (low, high))
    }

    /// True if something fixed to the body, within `reach` of its origin, can reach into a box.
    fn brings_near(&self, reach: f64, (low, high): (DVec3, DVec3)) -> bool {
        self.is_within(self.radius - self.solid.reach() + reach, (low, high))
    }

    fn is_within(&self, radius: f64, (low, high): (DVec3, DVec3)) -> bool {
        let off = self.middle - self.middle.max(low).min(high);
        off.length_squared() <= radius * radius
    }

    fn printed(&self) -> u64 {
        let mut print = Fingerprint::new();
        print.u64(self.id);
        match &self.how {
            How::Along(track) => track.feed(&mut print),
            How::Between { to, ticks, .. } => {
                print.u64(ticks.end);
                to.0.to_array().iter().chain(&to.1.to_array()).for_each(|x| print.f64(*x));
            }
        }
        self.solid.feed(&mut print);
        print.value()
    }
}

impl Bodies {
    pub fn iter(&self) -> core::slice::Iter<'_, Named> {
        self.all.iter()
    }

    pub fn has_tracks(&self) -> bool {
        self.tracks > 0
    }

    /// A surface of every mesh is passed from below from now on.
    pub fn pass_from_below(&mut self, surface: u16) {
        for named in &mut self.all {
            if let Some(mesh) = named.solid.as_mesh_mut() {
                *mesh = mesh.clone().with_one_way(surface);
            }
            named.print = named.printed();
        }
    }

    pub fn named(&self, id: u64) -> Option<&Named> {
        self.by_id.get(&id).map(|slot| &self.all[*slot as usize])
    }

    pub fn put(&mut self, id: u64, solid: Solid, at: Pose) {
        self.insert(Named::new(id, solid, How::Between { from: at, to: at, ticks: 0..0 }));
    }

    pub fn put_on_track(&mut self, id: u64, solid: Solid, track: Track) {
        self.insert(Named::new(id, solid, How::Along(track)));
    }

    /// Takes it from where it is when the first of these ticks begins to where it is to be when the last has ended; at once where there are
    /// none, as one with a track always is.
    pub fn take(&mut self, id: u64, to: Pose, ticks: Range<u64>) {
        let Some(named) = self.take_out(id) else { return };
        let from = if ticks.is_empty() { to } else { named.pose(ticks.start, 0.0) };
        self.insert(Named::new(id, named.solid, How::Between { from, to, ticks }));
    }

    fn insert(&mut self, named: Named) {
        self.take_out(named.id);
        let slot = self.all.len() as u32;
        self.by_id.insert(named.id, slot);
        self.cells.insert(named.cell(), named.radius, slot);
        self.tracks += usize::from(named.has_track());
        self.all.push(named);
    }

    /// Removes it; the last takes its place in the list.
    pub fn take_out(&mut self, id: u64) -> Option<Named> {
        let slot = self.by_id.remove(&id)?;
        let named = self.all.swap_remove(slot as usize);
        self.cells.remove(named.cell(), slot);
        if let Some(moved) = self.all.get(slot as usize) {
            let was = self.all.len() as u32;
            self.cells.remove(moved.cell(), was);
            self.cells.insert(moved.cell(), moved.radius, slot);
            self.by_id.insert(moved.id, slot);
        }
        self.tracks -= usize::from(named.has_track());
        Some(named)
    }

    /// A summary of the bodies that can reach into a box, and of the `carriers` whose load can: each a name and the reach of the load.
    pub fn near(&self, when: When, (low, high): (DVec3, DVec3), carriers: impl Iterator<Item = (u64, f64)>) -> Near {
        let mut near = Near::default();
        if self.all.is_empty() {
            return near;
        }
        self.each_near(low, high, |named| near.count(named, when.number));
        let carriers = carriers.filter_map(|(id, reach)| Some((self.named(id)?, reach)));
        // A carrier that is near itself counts twice, consistently.
        carriers.filter(|(named, reach)| named.brings_near(*reach, (low, high))).for_each(|(named, _)| {
            near.count(named, when.number);
        });
        near
    }

    pub fn each_near(&self, low: DVec3, high: DVec3, mut found: impl FnMut(&Named)) {
        self.cells.each_near(low, high, |slot| {
            let named = &self.all[slot as usize];
            if named.is_near(low, high) {
                found(named);
            }
        });
    }
}
