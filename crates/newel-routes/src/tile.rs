//! A square of surveyed ground: places to stand in a grid of columns, and the ways from each to its eight neighbours that can be walked. The
//! links that take more than walking are looked for once a search comes to it.

use newel::glam::{DVec2, DVec3, Vec3};
use newel::{Character, Stance};
use std::sync::OnceLock;

use crate::columns::{Columns, Floors};
use crate::legs::Legs;
use crate::link::Link;

/// Columns along each side of a tile.
pub(crate) const SIDE: usize = 32;
/// The neighbours of a column, anticlockwise from +x: every other one is straight.
pub(crate) const WAYS: [[i32; 2]; 8] = [[1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0], [-1, -1], [0, -1], [1, -1]];
/// There is no way to that neighbour.
pub(crate) const NO_WAY: u8 = u8::MAX;
/// A slope gentler than the steepest by this much, radians, is walked without a doubt.
const GENTLER: f64 = 0.05;
/// Over one gentle floor a step of this part of the highest is no matter.
const LOW_STEP: f64 = 0.7;
/// More floors than this over each other are not looked at.
const MOST_FLOORS: usize = 64;

/// A place to stand.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Node {
    /// Where, relative to the tile's origin, metres in the world.
    pub at: Vec3,
    pub stance: Stance,
    /// The factor on the top speed there, in hundredths.
    pub pace: u8,
    /// Which floor of each neighbouring column it can walk to.
    pub next: [u8; 8],
}

#[derive(Debug)]
pub(crate) struct Tile {
    pub origin: DVec3,
    /// Where the floors of each column begin among the nodes.
    first: Vec<u16>,
    pub nodes: Vec<Node>,
    /// By the node they begin at; nothing before they are looked for.
    pub links: OnceLock<Vec<Link>>,
}

impl Tile {
    /// The nodes of a column, lowest first, and the index of the first.
    pub fn floors(&self, column: usize) -> (usize, &[Node]) {
        let (from, to) = (usize::from(self.first[column]), usize::from(self.first[column + 1]));
        (from, &self.nodes[from..to])
    }

    /// The links that begin at a node.
    pub fn links_of(&self, node: usize) -> &[Link] {
        let links = self.links.get().map_or(&[][..], Vec::as_slice);
        let from = links.partition_point(|link| usize::from(link.from) < node);
        let count = links[from..].partition_point(|link| usize::from(link.from) == node);
        &links[from..from + count]
    }

    /// The column that a node is in.
    pub fn column_of(&self, node: usize) -> usize {
        self.first.partition_point(|first| usize::from(*first) <= node) - 1
    }

    pub fn place(&self, node: &Node) -> DVec3 {
        self.origin + node.at.as_dvec3()
    }

    /// What it takes in memory, bytes.
    pub fn bytes(&self) -> usize {
        size_of::<Tile>()
            + 2 * self.first.len()
            + size_of::<Node>() * self.nodes.len()
            + size_of::<Link>() * self.links.get().map_or(0, Vec::len)
    }
}

/// Surveys the tile with this number along each axis of the map.
pub(crate) fn survey(legs: &mut Legs<'_>, number: [i32; 2]) -> Tile {
    let around = stand_all_over(legs, number);
    let origin = around.origin(legs, number);
    let mut tile = Tile { origin, first: vec![0], nodes: Vec::new(), links: OnceLock::new() };
    let mut starts = Vec::new();
    for (i, k) in (0..SIDE * SIDE).map(|n| (n % SIDE, n / SIDE)) {
        let column = (k + 1) * around.columns.count + i + 1;
        for who in &around.standing[column] {
            let at = (who.position - origin).as_vec3();
            let pace = (legs.pace(who) * 100.0).round() as u8;
            let mut next = [NO_WAY; 8];
            for way in (0..8).step_by(2) {
                next[way] = around.walks(legs, column, who, way);
            }
            tile.nodes.push(Node { at, stance: who.stance, pace, next });
            starts.push((column, *who));
        }
        tile.first.push(tile.nodes.len() as u16);
    }
    walk_across_corners(legs, &around, &mut tile, &starts);
    tile
}

/// Whoever can stand in the columns of a tile and in those around it.
struct Around {
    columns: Columns,
    standing: Vec<Vec<Character>>,
}

fn stand_all_over(legs: &mut Legs<'_>, number: [i32; 2]) -> Around {
    let (survey, frame, values) = (legs.survey, legs.frame, legs.plain.values());
    let first = number.map(|n| n * SIDE as i32 - 1);
    let square = (first, SIDE + 2, survey.cell);
    let columns = if survey.plane.as_dvec3().dot(frame.up).abs() > 0.5 {
        Columns::level(square, frame.height(survey.through))
    } else {
        let steepest = f64::from(values.ground.steepest).to_radians();
        let radius = f64::from(legs.plain.shape().radius);
        let gentle = (steepest - GENTLER).max(0.0).cos();
        let floors = Floors { least_up: steepest.cos() - 0.01, apart: legs.step().max(0.1), radius, gentle };
        Columns::of(legs.terrain, legs.when, frame, square, survey.heights, floors)
    };
    let stand_in = |column: usize| {
        let mut standing: Vec<Character> = Vec::new();
        for one in columns.tries(column) {
            let aside = 0.5 * survey.cell + (one.map - columns.middle(column)).abs().max_element();
            let it = legs.stand(on_plane(legs, one.map, one.height), aside);
            let is_new = |it: &Character| standing.iter().all(|s| (s.position - it.position).length() > 0.05);
            let in_column = |it: &Character| {
                (frame.map(it.position) - columns.middle(column)).abs().max_element() <= 0.5 * survey.cell
            };
            standing.extend(it.filter(|it| is_new(it) && in_column(it)));
        }
        standing.sort_by(|a, b| frame.height(a.position).total_cmp(&frame.height(b.position)));
        standing.truncate(MOST_FLOORS);
        standing
    };
    let standing = (0..columns.count * columns.count).map(stand_in).collect();
    Around { columns, standing }
}

/// The place there on the map, brought to the plane that the character keeps to.
fn on_plane(legs: &Legs<'_>, map: DVec2, height: f64) -> DVec3 {
    let place = legs.frame.place(map, height);
    let plane = legs.survey.plane.as_dvec3().try_normalize();
    plane.map_or(place, |normal| place - normal * (place - legs.survey.through).dot(normal))
}

impl Around {
    fn origin(&self, legs: &Legs<'_>, number: [i32; 2]) -> DVec3 {
        let middle = number.map(|n| (f64::from(n) + 0.5) * SIDE as f64 * self.columns.cell);
        let height = self.standing.iter().flatten().map(|who| legs.frame.height(who.position)).next().unwrap_or(0.0);
        legs.frame.place(DVec2::from_array(middle), height)
    }

    fn neighbour(&self, column: usize, way: usize) -> &[Character] {
        &self.standing[self.beside(column, way)]
    }

    /// True where it need not be tried whether it can walk to that neighbour: both stand on one gentle floor with nothing near.
    fn is_gentle_way(
        &self,
        legs: &Legs<'_>,
        column: usize,
        who: &Character,
        (way, other): (usize, &Character),
    ) -> bool {
        let step = LOW_STEP * legs.step();
        let tall = f64::from(legs.plain.shape().height);
        let gentle = |column: usize, who: &Character| {
            let height = legs.frame.height(who.position);
            who.stance == Stance::Stand && self.columns.is_gentle(column, height, tall, step)
        };
        let rise = legs.frame.height(other.position) - legs.frame.height(who.position);
        let up = legs.frame.across(who.position, other.position);
        rise.abs() <= step.min(up) && gentle(column, who) && gentle(self.beside(column, way), other)
    }

    fn beside(&self, column: usize, way: usize) -> usize {
        let [i, k] = WAYS[way];
        (column as i64 + i64::from(k) * self.columns.count as i64 + i64::from(i)) as usize
    }

    /// Which floor of the neighbour it can walk to, if any.
    fn walks(&self, legs: &mut Legs<'_>, column: usize, who: &Character, way: usize) -> u8 {
        let floors = self.neighbour(column, way);
        let reach = 2.0 * legs.survey.cell + legs.step();
        for (floor, other) in floors.iter().enumerate() {
            let rise = legs.frame.height(other.position) - legs.frame.height(who.position);
            if rise.abs() > reach {
                continue;
            }
            if self.is_gentle_way(legs, column, who, (way, other)) {
                return floor as u8;
            }
            let lower = who.stance.max(other.stance);
            let as_low = if who.stance == lower { Some(*who) } else { legs.stand_as(who.position, 1e-3, &[lower]) };
            if as_low.and_then(|who| legs.walk(&who, other.position, 0.0)).is_some() {
                return floor as u8;
            }
        }
        NO_WAY
    }
}

/// The ways to the four neighbours across corners: where both ways round can be walked so can the one between; else it is tried.
fn walk_across_corners(legs: &mut Legs<'_>, around: &Around, tile: &mut Tile, starts: &[(usize, Character)]) {
    for (node, (column, who)) in starts.iter().enumerate() {
        for way in (1..8).step_by(2) {
            let floor = match round_corner(tile, around, *column, node, way) {
                Some(floor) => floor,
                None => around.walks(legs, *column, who, way),
            };
            tile.nodes[node].next[way] = floor;
        }
    }
}

/// The floor that both ways round a corner lead to; `None` where they do not, or where that is for another tile to say.
fn round_corner(tile: &Tile, around: &Around, column: usize, node: usize, way: usize) -> Option<u8> {
    let sides = [(way + 7) % 8, (way + 1) % 8];
    let ends = [(0, 1), (1, 0)].map(|(one, two)| {
        let (first, then) = (sides[one], sides[two]);
        let floor = tile.nodes[node].next[first];
        let [i, k] = WAYS[first];
        let (i, k) = ((column % around.columns.count) as i32 + i - 1, (column / around.columns.count) as i32 + k - 1);
        let inside = |n: i32| (0..SIDE as i32).contains(&n);
        if floor == NO_WAY || !inside(i) || !inside(k) {
            return None;
        }
        let (_, floors) = tile.floors(k as usize * SIDE + i as usize);
        let between = floors.get(usize::from(floor))?;
        let lower = between.stance.max(tile.nodes[node].stance) == tile.nodes[node].stance;
        Some(between.next[then]).filter(|floor| *floor != NO_WAY && lower)
    });
    ends[0].filter(|_| ends[0] == ends[1])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::survey::Survey;
    use newel::{Mesh, Tuning, When};

    /// Hills of facets a metre wide, up to about 50 degrees, with boxes strewn about: some stand, some hang.
    fn rough_land(seed: u64) -> Mesh {
        let mut dice = seed;
        let mut roll = |low: f64, high: f64| {
            dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (low + (high - low) * (dice >> 11) as f64 / (1u64 << 53) as f64) as f32
        };
        let (side, rough) = (15, roll(0.1, 0.9));
        let mut corners: Vec<[f32; 3]> = Vec::new();
        for n in 0..side * side {
            corners.push([(n % side) as f32 - 2.0, roll(0.0, 1.0) * rough, (n / side) as f32 - 2.0]);
        }
        let mut indices = Vec::new();
        for n in (0..side * (side - 1)).filter(|n| n % side + 1 < side) {
            let [a, b, c, d] = [n, n + 1, n + side, n + side + 1].map(|n| n as u32);
            indices.extend([a, b, d, a, d, c]);
        }
        for _ in 0..12 {
            let low = [roll(0.0, 9.0), roll(-0.5, 2.5), roll(0.0, 9.0)];
            let high = [low[0] + roll(0.1, 2.0), low[1] + roll(0.05, 1.5), low[2] + roll(0.1, 2.0)];
            let first = corners.len() as u32;
            corners.extend(
                (0..8).map(|n| core::array::from_fn(|axis| if n >> axis & 1 == 0 { low[axis] } else { high[axis] })),
            );
            for [a, b, c, d] in [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]] {
                indices.extend([a, b, c, a, c, d].map(|n| first + n));
            }
        }
        Mesh::new(&corners, &indices).unwrap()
    }

    #[test]
    fn what_is_taken_as_walked_is_walked() {
        let tuning = Tuning::walker();
        let (mut gentle, mut tried) = (0, 0);
        for seed in 0..40 {
            // Also in cells much smaller than it is wide: what is near then lies beyond the columns.
            let cell = if seed % 2 == 0 { Survey::of(&tuning).cell } else { 0.08 };
            let survey = Survey { cell, ..Survey::of(&tuning) };
            let frame = survey.check().unwrap();
            let land = rough_land(seed);
            let when = When::tick(0, 1.0 / 60.0);
            let mut legs = Legs::new(&land, when, &survey, frame, [&tuning, &tuning]);
            let around = stand_all_over(&mut legs, [0, 0]);
            for column in (1..=SIDE).flat_map(|k| (1..=SIDE).map(move |i| k * (SIDE + 2) + i)) {
                for (who, way) in around.standing[column].iter().flat_map(|who| [0, 2, 4, 6].map(|way| (who, way))) {
                    for other in around.neighbour(column, way) {
                        tried += 1;
                        if around.is_gentle_way(&legs, column, who, (way, other)) {
                            gentle += 1;
                            let there = legs.walk(who, other.position, 0.0);
                            assert!(there.is_some(), "land {seed}: {} to {}", who.position, other.position);
                        }
                    }
                }
            }
        }
        assert!(gentle > 3000 && gentle < tried, "{gentle} of {tried}");
    }
}
