//! The order in which the members of a crowd are moved: neighbours one after the other, so that what one has looked up serves the next.
//!
//! It makes no difference to where anybody gets.

use glam::DVec3;

/// Members within cells of this size, metres, are moved one after the other.
const CELL: f64 = 8.0;

#[derive(Debug, Default)]
pub(super) struct Order {
    /// The member whose turn it is, by turns.
    turns: Vec<usize>,
    /// The turn of each member.
    turn_of: Vec<usize>,
    cells: Vec<[i64; 3]>,
}

impl Order {
    /// Arranges the members, which stand at these places.
    pub fn arrange(&mut self, places: impl ExactSizeIterator<Item = DVec3>) {
        let count = places.len();
        self.cells.clear();
        self.cells.extend(places.map(|place| (place / CELL).floor().to_array().map(|number| number as i64)));
        if self.turns.len() != count {
            self.turns.clear();
            self.turns.extend(0..count);
        }
        // Most stand where they stood in the last tick: nearly sorted, that is one pass.
        self.turns.sort_by_key(|member| (self.cells[*member], *member));
        self.turn_of.clear();
        self.turn_of.resize(count, 0);
        for (turn, member) in self.turns.iter().enumerate() {
            self.turn_of[*member] = turn;
        }
    }

    /// The members, by turns.
    pub fn turns(&self) -> &[usize] {
        &self.turns
    }

    /// The turn of a member; `None` where there is no such.
    pub fn turn_of(&self, member: usize) -> Option<usize> {
        self.turn_of.get(member).copied()
    }
}
