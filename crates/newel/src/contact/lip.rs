//! Ledges, from the geometry alone: where walkable tops begin straight ahead, with nothing before them and room over them.
//!
//! Every walkable facet is cut by the upright plane that leads ahead through the middle of the character. A lip is the near end of
//! such a cut that no other cut goes on from; so how tops are cut into triangles, and whether those share corners, says nothing.

use glam::Vec3;

use super::surroundings::Surroundings;
use crate::limits::Limits;
use crate::terrain::{Facet, RoundedBox};

/// Cuts whose ends are nearer than this along the way, and in height, metres, are one top.
const SEAM: f32 = 2e-3;
const LEVEL: f32 = 5e-3;
/// The way over a lip is open from this far before it to this far behind it, this high over it, metres.
const BEFORE: f32 = 0.05;
const BEHIND: f32 = 0.02;
const OVER: f32 = 0.03;
/// The most lips straight ahead that are told apart.
const MOST: usize = 4;

/// Where a walkable top begins.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Lip {
    /// How high it is over the feet, metres.
    pub height: f32,
    /// How far ahead of the middle of the character it is, metres.
    pub ahead: f32,
    /// How far the top goes on behind it, metres, as far as was looked.
    pub depth: f32,
    /// The surface number of the top.
    pub surface: u16,
    /// Index of its body into the patch's.
    pub body: u16,
}

/// Limits of a lip.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Looks {
    /// Unit vector square to up: the way it looks.
    pub ahead: Vec3,
    /// The least and the most height over the feet, metres.
    pub heights: (f32, f32),
    /// The farthest ahead of the middle, metres.
    pub reach: f32,
    /// How far its top is followed, metres.
    pub deep: f32,
    /// How wide it is at least, metres.
    pub width: f32,
}

/// A walkable facet cut by the upright plane: from near to far, how far ahead and how high each end is.
#[derive(Clone, Copy)]
struct Cut {
    near: (f32, f32),
    far: (f32, f32),
}

impl Cut {
    fn height_at(&self, ahead: f32) -> f32 {
        let length = self.far.0 - self.near.0;
        if length < 1e-6 {
            self.near.1
        } else {
            self.near.1 + (self.far.1 - self.near.1) * ((ahead - self.near.0) / length)
        }
    }
}

/// The upright plane, by the foot of the character's middle and the axes in it.
struct Slice {
    base: Vec3,
    ahead: Vec3,
    aside: Vec3,
    up: Vec3,
    least_up: f32,
}

impl Slice {
    fn cut(&self, facet: &Facet) -> Option<Cut> {
        if facet.normal.dot(self.up).abs() < self.least_up {
            return None;
        }
        let corners = [facet.a, facet.b, facet.c, facet.a].map(|c| c - self.base);
        let mut cut: Option<Cut> = None;
        for side in corners.windows(2) {
            let (from, to) = (side[0].dot(self.aside), side[1].dot(self.aside));
            if from * to > 0.0 || from == to {
                continue;
            }
            let at = side[0] + (side[1] - side[0]) * (from / (from - to));
            let end = (at.dot(self.ahead), at.dot(self.up));
            let (near, far) = cut.map_or((end, end), |c| (c.near, c.far));
            let near = if end.0 < near.0 { end } else { near };
            let far = if end.0 > far.0 { end } else { far };
            cut = Some(Cut { near, far });
        }
        cut.filter(|c| c.far.0 - c.near.0 > 1e-6)
    }

    fn at(&self, ahead: f32, height: f32) -> Vec3 {
        self.base + self.ahead * ahead + self.up * height
    }
}

impl Surroundings<'_> {
    /// The lips straight ahead, the lowest first.
    pub fn lips(&mut self, looks: &Looks, limits: &Limits) -> [Option<Lip>; MOST] {
        let mut found = [None; MOST];
        self.reach_for(looks);
        let slice = self.slice(looks, 0.0, limits);
        for index in 0..self.patch.facets.len() {
            let Some(lip) = self.lip_of(index, &slice, looks) else { continue };
            let known = found
                .iter()
                .flatten()
                .any(|l: &Lip| (l.height - lip.height).abs() < SEAM && (l.ahead - lip.ahead).abs() < SEAM);
            if known || !self.is_wide_enough(&lip, looks, limits) {
                continue;
            }
            insert(&mut found, lip);
        }
        found
    }

    /// Whether there is one, without asking how wide it is.
    pub fn lip(&mut self, looks: &Looks, aside: f32, limits: &Limits) -> Option<Lip> {
        self.reach_for(looks);
        let slice = self.slice(looks, aside, limits);
        (0..self.patch.facets.len()).find_map(|index| self.lip_of(index, &slice, looks))
    }

    fn reach_for(&mut self, looks: &Looks) {
        let local = self.local();
        let (side, up) = (looks.ahead.cross(self.up) * (0.5 * looks.width), self.up);
        let far = looks.ahead * (looks.reach + looks.deep);
        let (low, high) = (up * looks.heights.0, up * (looks.heights.1 + 2.0 * OVER));
        let corners = [low, high].map(|h| [h, h + far, h + side, h - side, h + far + side, h + far - side]);
        let ends = corners.iter().flatten();
        let (least, most) = ends.fold((Vec3::INFINITY, Vec3::NEG_INFINITY), |b, c| (b.0.min(*c), b.1.max(*c)));
        self.ensure(local + least, local + most);
    }

    fn slice(&self, looks: &Looks, aside: f32, limits: &Limits) -> Slice {
        let right = looks.ahead.cross(self.up);
        let base = self.local() + right * aside;
        Slice { base, ahead: looks.ahead, aside: right, up: self.up, least_up: limits.least_up_to_stay }
    }

    /// The lip that the near end of a facet's cut is, if it is one.
    fn lip_of(&self, index: usize, slice: &Slice, looks: &Looks) -> Option<Lip> {
        let facet = &self.patch.facets[index];
        let cut = slice.cut(facet)?;
        let (ahead, height) = cut.near;
        let there = ahead > 0.0 && ahead <= looks.reach && height >= looks.heights.0 && height <= looks.heights.1;
        if !there || self.goes_on_before(index, slice, (ahead, height)) {
            return None;
        }
        let open = self.is_open(slice.at(ahead - BEFORE, height + OVER), slice.at(ahead + BEHIND, height + OVER));
        let depth = if open { self.depth(slice, &cut, looks.deep) } else { return None };
        Some(Lip { height, ahead, depth, surface: facet.surface, body: facet.body })
    }

    /// True where another top leads up to that point from before it.
    fn goes_on_before(&self, index: usize, slice: &Slice, (ahead, height): (f32, f32)) -> bool {
        self.patch.facets.iter().enumerate().filter(|(i, _)| *i != index).any(|(_, facet)| {
            slice.cut(facet).is_some_and(|c| {
                let leads_up = c.near.0 < ahead - 1e-5 && c.far.0 > ahead - SEAM;
                leads_up && (c.height_at(ahead.min(c.far.0)) - height).abs() < LEVEL
            })
        })
    }

    /// How far the top that begins with `cut` goes on, at most `deep`.
    fn depth(&self, slice: &Slice, cut: &Cut, deep: f32) -> f32 {
        let start = cut.near.0;
        let (mut far, mut height) = cut.far;
        loop {
            let before = far;
            for other in self.patch.facets.iter().filter_map(|facet| slice.cut(facet)) {
                let goes_on = other.near.0 <= far + SEAM && other.far.0 > far;
                if goes_on && (other.height_at(far.max(other.near.0)) - height).abs() < 10.0 * LEVEL {
                    (far, height) = other.far;
                }
            }
            if far == before || far - start >= deep {
                return (far - start).min(deep);
            }
        }
    }

    /// True where there is a lip about as high to both sides of it, half its width away.
    fn is_wide_enough(&self, lip: &Lip, looks: &Looks, limits: &Limits) -> bool {
        let half = 0.5 * looks.width;
        // It may run up or down as steeply as what is walked on, and at most so much across the way ahead.
        let slack = half + LEVEL;
        let near = Looks {
            heights: (lip.height - slack, lip.height + slack),
            reach: lip.ahead + 2.0 * slack,
            deep: 0.0,
            ..*looks
        };
        half == 0.0
            || [-half, half].into_iter().all(|aside| {
                let slice = self.slice(looks, aside, limits);
                (0..self.patch.facets.len()).any(|index| self.lip_of(index, &slice, &near).is_some())
            })
    }

    /// True where nothing is between two points.
    pub fn is_open(&self, from: Vec3, to: Vec3) -> bool {
        let (low, high) = (from.min(to), from.max(to));
        let mut near = self.patch.facets_near(RoundedBox::new(low, high, 0.0));
        near.all(|(_, facet)| {
            let (before, after) = (facet.height_of(from), facet.height_of(to));
            if before * after > 0.0 || before == after {
                return true;
            }
            let at = from + (to - from) * (before / (before - after));
            facet.edges().iter().any(|edge| edge.beyond(at) > 0.0)
        })
    }
}

/// Keeps the lowest of them in order.
fn insert(found: &mut [Option<Lip>; MOST], lip: Lip) {
    let place = found.iter().position(|l| l.is_none_or(|l| lip.height < l.height));
    if let Some(place) = place {
        found[place..].rotate_right(1);
        found[place] = Some(lip);
    }
}
