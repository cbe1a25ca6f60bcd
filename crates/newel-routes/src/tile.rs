//! A square of surveyed ground: places to stand or float in a grid of columns, and which of the eight neighbours of each can be walked
//! or swum to. Links take more than walking; a search looks for them when it comes to a tile.

use std::sync::OnceLock;

use newel::Stance;
use newel::glam::{DVec3, Vec3};

use crate::crossing::Crossing;
use crate::link::Link;

/// Columns along each side of a tile.
pub(crate) const SIDE: usize = 32;
/// The neighbours of a column, anticlockwise from +x: every other one is straight.
pub(crate) const WAYS: [[i32; 2]; 8] = [[1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0], [-1, -1], [0, -1], [1, -1]];
/// There is no way to that neighbour.
pub(crate) const NO_WAY: u8 = u8::MAX;

/// A place to stand or float.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Node {
    /// Where, relative to the tile's origin, metres in the world.
    pub at: Vec3,
    pub stance: Stance,
    /// The character floats here.
    pub swims: bool,
    /// The factor on the top speed there, in hundredths.
    pub pace: u8,
    /// Which floor of each neighbouring column it can walk or swim to.
    pub next: [u8; 8],
}

#[derive(Clone, Debug)]
pub(crate) struct Tile {
    pub origin: DVec3,
    /// Where the floors of each column begin among the nodes.
    pub first: Vec<u16>,
    pub nodes: Vec<Node>,
    /// Of each node, the lowest one of its piece: of those in this tile that can be walked to and from.
    pub piece: Vec<u16>,
    /// By the node they begin at; nothing before they are looked for.
    pub links: OnceLock<Vec<Link>>,
    /// From which piece one comes to which piece of this and other tiles; nothing before they are looked for.
    pub crossings: OnceLock<Vec<Crossing>>,
}

impl Tile {
    pub fn empty(origin: DVec3) -> Tile {
        Tile {
            origin,
            first: vec![0],
            nodes: Vec::new(),
            piece: Vec::new(),
            links: OnceLock::new(),
            crossings: OnceLock::new(),
        }
    }

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

    /// Memory, bytes.
    pub fn bytes(&self) -> usize {
        size_of::<Tile>()
            + 2 * (self.first.capacity() + self.piece.capacity())
            + size_of::<Node>() * self.nodes.capacity()
            + size_of::<Link>() * self.links.get().map_or(0, Vec::len)
            + size_of::<Crossing>() * self.crossings.get().map_or(0, Vec::len)
    }

    /// The tile as surveyed, without what was found by looking into tiles around it.
    pub fn by_itself(&self) -> Tile {
        Tile { links: OnceLock::new(), crossings: OnceLock::new(), ..self.clone() }
    }

    /// True where links may begin: at the rim of what can be walked.
    pub fn has_rims(&self) -> bool {
        self.nodes.iter().any(|node| node.next.contains(&NO_WAY))
    }

    /// The column so many off, where that is in this tile.
    pub fn column_beside(column: usize, way: usize) -> Option<usize> {
        let [i, k] = WAYS[way];
        let (i, k) = ((column % SIDE) as i32 + i, (column / SIDE) as i32 + k);
        let side = 0..SIDE as i32;
        (side.contains(&i) && side.contains(&k)).then(|| k as usize * SIDE + i as usize)
    }

    /// Finds the pieces: what can be walked both ways within the tile (union by the lower number, after Tarjan, 1975).
    pub fn find_pieces(&mut self) {
        let mut piece: Vec<u16> = (0..self.nodes.len() as u16).collect();
        for column in 0..SIDE * SIDE {
            let (first, floors) = self.floors(column);
            for (node, from) in (first..).zip(floors) {
                for way in 0..4 {
                    let Some(beside) = Tile::column_beside(column, way).filter(|_| from.next[way] != NO_WAY) else {
                        continue;
                    };
                    let (there, others) = self.floors(beside);
                    let Some(other) = others.get(usize::from(from.next[way])) else { continue };
                    if usize::from(other.next[way + 4]) + first == node {
                        let (a, b) = (root(&mut piece, node), root(&mut piece, there + usize::from(from.next[way])));
                        piece[a.max(b)] = a.min(b) as u16;
                    }
                }
            }
        }
        for node in 0..piece.len() {
            piece[node] = root(&mut piece, node) as u16;
        }
        self.piece = piece;
    }
}

fn root(piece: &mut [u16], mut node: usize) -> usize {
    while usize::from(piece[node]) != node {
        piece[node] = piece[usize::from(piece[node])];
        node = usize::from(piece[node]);
    }
    node
}
