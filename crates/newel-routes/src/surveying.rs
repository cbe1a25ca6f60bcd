//! Surveying a tile, column by column: the work can stop after each and go on later.

use newel::glam::DVec2;
use newel::{Character, Mode, Stance};

use crate::budget::OutOfBudget;
use crate::columns::Columns;
use crate::legs::Legs;
use crate::standing;
use crate::tile::{NO_WAY, Node, SIDE, Tile, WAYS};

/// Over one gentle floor a step of this part of the highest is no matter.
const LOW_STEP: f64 = 0.7;
/// Columns along each side of what is looked at: those of the tile and one more all round.
const ACROSS: usize = SIDE + 2;

/// A tile being surveyed.
pub(crate) struct Surveying {
    number: [i32; 2],
    around: Around,
    tile: Tile,
    stage: Stage,
}

/// The columns done with, or the nodes.
enum Stage {
    Standing(usize),
    StraightWays(usize),
    WaysAcrossCorners(usize),
}

impl Surveying {
    pub fn new(legs: &mut Legs<'_>, number: [i32; 2]) -> Surveying {
        let columns = standing::columns(legs, number.map(|n| n * SIDE as i32 - 1), ACROSS);
        let standing = vec![Vec::new(); ACROSS * ACROSS];
        let tile = Tile::empty(newel::glam::DVec3::ZERO);
        Surveying { number, around: Around { columns, standing }, tile, stage: Stage::Standing(0) }
    }

    /// Goes on with it, as far as the budget reaches.
    pub fn work(&mut self, legs: &mut Legs<'_>) -> Result<(), OutOfBudget> {
        while !self.is_done() {
            self.work_once(legs);
            legs.budget.check()?;
        }
        Ok(())
    }

    fn is_done(&self) -> bool {
        matches!(self.stage, Stage::WaysAcrossCorners(node) if node == self.tile.nodes.len())
    }

    fn work_once(&mut self, legs: &mut Legs<'_>) {
        legs.budget.spend(1);
        self.stage = match self.stage {
            Stage::Standing(column) if column < ACROSS * ACROSS => {
                self.around.standing[column] = standing::stand_in(legs, &self.around.columns, column);
                Stage::Standing(column + 1)
            }
            Stage::Standing(_) => {
                self.tile.origin = self.around.origin(legs, self.number);
                Stage::StraightWays(0)
            }
            Stage::StraightWays(column) if column < SIDE * SIDE => {
                self.add_column(legs, column);
                Stage::StraightWays(column + 1)
            }
            Stage::StraightWays(_) => Stage::WaysAcrossCorners(0),
            Stage::WaysAcrossCorners(node) => {
                self.walk_across_corners(legs, node);
                Stage::WaysAcrossCorners(node + 1)
            }
        };
    }

    /// The nodes of a column, with the ways to the four neighbours beside it.
    fn add_column(&mut self, legs: &mut Legs<'_>, column: usize) {
        let around = &self.around;
        let column = around_column(column);
        for who in &around.standing[column] {
            let at = (who.position - self.tile.origin).as_vec3();
            let pace = (legs.pace(who).min(1.0) * 100.0).round() as u8;
            let mut next = [NO_WAY; 8];
            for way in (0..8).step_by(2) {
                next[way] = around.walks(legs, column, who, way);
            }
            self.tile.nodes.push(Node { at, stance: who.stance, swims: who.mode == Mode::Swim, pace, next });
        }
        self.tile.first.push(self.tile.nodes.len() as u16);
    }

    /// The ways to the four neighbours across corners: where both ways round can be walked so can the one between; else it is tried.
    fn walk_across_corners(&mut self, legs: &mut Legs<'_>, node: usize) {
        let inner = self.tile.column_of(node);
        let (first, column) = (usize::from(self.tile.first[inner]), around_column(inner));
        for way in (1..8).step_by(2) {
            let floor = match round_corner(&self.tile, inner, node, way) {
                Some(floor) => floor,
                None => self.around.walks(legs, column, &self.around.standing[column][node - first], way),
            };
            self.tile.nodes[node].next[way] = floor;
        }
    }

    /// The tile, once it is done.
    pub fn finish(mut self) -> Tile {
        self.tile.nodes.shrink_to_fit();
        self.tile.find_pieces();
        if !self.tile.has_rims() {
            let _ = self.tile.links.set(Vec::new());
        }
        self.tile
    }
}

/// The number of a tile's column among those looked at.
fn around_column(column: usize) -> usize {
    (column / SIDE + 1) * ACROSS + column % SIDE + 1
}

/// Places to stand in the columns of a tile and around it.
pub(crate) struct Around {
    pub columns: Columns,
    pub standing: Vec<Vec<Character>>,
}

impl Around {
    fn origin(&self, legs: &Legs<'_>, number: [i32; 2]) -> newel::glam::DVec3 {
        let middle = number.map(|n| (f64::from(n) + 0.5) * SIDE as f64 * self.columns.cell);
        let height = self.standing.iter().flatten().map(|who| legs.frame.height(who.position)).next().unwrap_or(0.0);
        legs.frame.place(DVec2::from_array(middle), height)
    }

    pub fn neighbour(&self, column: usize, way: usize) -> &[Character] {
        &self.standing[self.beside(column, way)]
    }

    /// True where the way to a neighbour needs no trial: both stand on one gentle floor with nothing near, or swim in open water.
    pub fn is_gentle_way(
        &self,
        legs: &Legs<'_>,
        column: usize,
        who: &Character,
        (way, other): (usize, &Character),
    ) -> bool {
        let step = LOW_STEP * legs.step();
        let tall = f64::from(legs.plain.shape().height);
        let heights = [who, other].map(|who| legs.frame.height(who.position));
        let both = [(column, who, heights[0]), (self.beside(column, way), other, heights[1])];
        if both.iter().all(|(_, who, _)| who.mode == Mode::Swim) {
            return both.iter().all(|(column, _, height)| self.columns.is_free(*column, height - step, height + tall));
        }
        let rise = heights[1] - heights[0];
        let up = legs.frame.across(who.position, other.position);
        rise.abs() <= step.min(up)
            && both.iter().all(|(column, who, height)| {
                let walks = who.stance == Stance::Stand && who.mode == Mode::Ground;
                walks && self.columns.is_gentle(*column, *height, tall, step)
            })
    }

    fn beside(&self, column: usize, way: usize) -> usize {
        let [i, k] = WAYS[way];
        (column as i64 + i64::from(k) * self.columns.count as i64 + i64::from(i)) as usize
    }

    /// Which floor of the neighbour it can walk or swim to, if any.
    fn walks(&self, legs: &mut Legs<'_>, column: usize, who: &Character, way: usize) -> u8 {
        let floors = self.neighbour(column, way);
        let reach = 2.0 * legs.survey.cell + legs.step();
        for (floor, other) in floors.iter().enumerate() {
            let rise = legs.frame.height(other.position) - legs.frame.height(who.position);
            if rise.abs() > reach {
                continue;
            }
            if self.is_gentle_way(legs, column, who, (way, other)) || walks_to(legs, who, other) {
                return floor as u8;
            }
        }
        NO_WAY
    }
}

/// Whether a trial comes from one place to another.
fn walks_to(legs: &mut Legs<'_>, who: &Character, other: &Character) -> bool {
    if who.mode != other.mode {
        return legs.wades(who, other.position);
    }
    let lower = who.stance.max(other.stance);
    let as_low = if who.stance == lower { Some(who.clone()) } else { legs.stand_as(who.position, 1e-3, &[lower]) };
    as_low.and_then(|who| legs.walk(&who, other.position, 0.0)).is_some()
}

/// The floor that both ways round a corner lead to; `None` where they do not, or where that is for another tile to say.
fn round_corner(tile: &Tile, column: usize, node: usize, way: usize) -> Option<u8> {
    let sides = [(way + 7) % 8, (way + 1) % 8];
    let ends = [(0, 1), (1, 0)].map(|(one, two)| {
        let (first, then) = (sides[one], sides[two]);
        let floor = tile.nodes[node].next[first];
        let beside = Tile::column_beside(column, first).filter(|_| floor != NO_WAY)?;
        let between = tile.floors(beside).1.get(usize::from(floor))?;
        let alike = between.swims == tile.nodes[node].swims;
        let lower = between.stance.max(tile.nodes[node].stance) == tile.nodes[node].stance;
        Some(between.next[then]).filter(|floor| *floor != NO_WAY && lower && alike)
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
            let mut surveying = Surveying::new(&mut legs, [0, 0]);
            assert_eq!(surveying.work(&mut legs), Ok(()));
            let around = surveying.around;
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
