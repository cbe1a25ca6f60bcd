//! The tree over a mesh's triangles. A large mesh is cut into parts at medians, and a tree is built over each: building takes several times
//! the memory of what is built.

use obvhs::aabb::Aabb;
use obvhs::bvh2::Bvh2;
use obvhs::bvh2::leaf_collapser::collapse;
use obvhs::bvh2::node::Bvh2Node;
use obvhs::bvh2::reinsertion::ReinsertionOptimizer;
use obvhs::ploc::{PlocBuilder, PlocSearchDistance, SortPrecision};

use super::Triangle;

/// Triangles to a leaf of the tree, at most. Eight gather fastest: fewer nodes to visit, and one run of memory each.
const LEAF: u32 = 8;
/// Triangles that a tree is built over at once, at most.
const PART: usize = 1 << 18;

/// Builds the tree, and puts the triangles in the order of its leaves, so that neighbouring leaves lie in neighbouring memory.
pub(super) fn build(triangles: &mut [Triangle]) -> Bvh2 {
    build_in_parts(triangles, PART)
}

fn build_in_parts(triangles: &mut [Triangle], part: usize) -> Bvh2 {
    let mut all: Vec<u32> = (0..triangles.len() as u32).collect();
    let mut tree = tree_over(triangles, &mut all, part);
    // Parents beside their children in memory: a gather walks down one path.
    tree.reorder_in_stack_traversal_order();
    let mut order = Vec::with_capacity(triangles.len());
    for node in tree.nodes.iter_mut().filter(|n| n.is_leaf()) {
        let first = node.first_index as usize;
        node.first_index = order.len() as u32;
        order.extend_from_slice(&tree.primitive_indices[first..first + node.prim_count as usize]);
    }
    put_in_order(triangles, &mut order);
    // The tree now names the triangles by their new places.
    tree.primitive_indices = (0..triangles.len() as u32).collect();
    tree
}

/// The tree over some of the triangles; its primitives are named as they are.
fn tree_over(triangles: &[Triangle], some: &mut [u32], part: usize) -> Bvh2 {
    if some.len() <= part {
        return tree_at_once(triangles, some);
    }
    let middle = |t: u32| triangles[t as usize].bounds().center().to_array();
    let (mut low, mut high) = ([f32::INFINITY; 3], [f32::NEG_INFINITY; 3]);
    for at in some.iter().map(|t| middle(*t)) {
        low = core::array::from_fn(|axis| low[axis].min(at[axis]));
        high = core::array::from_fn(|axis| high[axis].max(at[axis]));
    }
    let longest =
        (0..3).fold(0, |best, axis| if high[axis] - low[axis] > high[best] - low[best] { axis } else { best });
    let half = some.len() / 2;
    some.select_nth_unstable_by(half, |a, b| middle(*a)[longest].total_cmp(&middle(*b)[longest]).then(a.cmp(b)));
    let (one, other) = some.split_at_mut(half);
    let one = tree_over(triangles, one, part);
    joined(one, tree_over(triangles, other, part))
}

fn tree_at_once(triangles: &[Triangle], some: &mut [u32]) -> Bvh2 {
    // Independent of the order of the parts.
    some.sort_unstable();
    let boxes: Vec<Aabb> = some.iter().map(|t| triangles[*t as usize].bounds()).collect();
    let order = (0..boxes.len() as u32).collect();
    let mut builder = PlocBuilder::with_capacity(boxes.len());
    let mut tree = builder.build(PlocSearchDistance::Medium, &boxes, order, SortPrecision::U64, 0);
    drop((builder, boxes));
    ReinsertionOptimizer::default().run(&mut tree, 0.02, None);
    collapse(&mut tree, LEAF, 8.0);
    tree.primitive_indices.iter_mut().for_each(|t| *t = some[*t as usize]);
    tree.parents = Vec::new();
    tree.nodes.shrink_to_fit();
    tree
}

/// One tree with two others as its halves.
fn joined(one: Bvh2, other: Bvh2) -> Bvh2 {
    let primitives = one.primitive_indices.len() as u32;
    // Both roots come right after the new one, then the rest of the one and of the other.
    let [from_one, from_other] = [2, one.nodes.len() as u32 + 1];
    let moved = |node: &Bvh2Node, nodes: u32, primitives: u32| {
        let by = if node.is_leaf() { primitives } else { nodes };
        Bvh2Node { first_index: node.first_index + by, ..*node }
    };
    let root = Bvh2Node::new(one.nodes[0].aabb().union(other.nodes[0].aabb()), 0, 1);
    let mut nodes = Vec::with_capacity(one.nodes.len() + other.nodes.len() + 1);
    nodes.push(root);
    nodes.push(moved(&one.nodes[0], from_one, 0));
    nodes.push(moved(&other.nodes[0], from_other, primitives));
    nodes.extend(one.nodes[1..].iter().map(|node| moved(node, from_one, 0)));
    nodes.extend(other.nodes[1..].iter().map(|node| moved(node, from_other, primitives)));
    let mut primitive_indices = one.primitive_indices;
    primitive_indices.extend(other.primitive_indices);
    let max_depth = one.max_depth.max(other.max_depth) + 1;
    Bvh2 { nodes, primitive_indices, max_depth, ..Bvh2::default() }
}

/// Puts at each place the triangle that `order` names for it, round by round of the permutation: a second copy would double the memory.
fn put_in_order(triangles: &mut [Triangle], order: &mut [u32]) {
    for start in 0..order.len() {
        let (held, mut at) = (triangles[start], start);
        while order[at] as usize != start && order[at] as usize != at {
            let from = order[at] as usize;
            triangles[at] = triangles[from];
            order[at] = at as u32;
            at = from;
        }
        if at != start {
            triangles[at] = held;
            order[at] = at as u32;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use glam::Vec3;

    /// Whether a box lies within another.
    fn holds(outer: &Aabb, inner: &Aabb) -> bool {
        outer.min.cmple(inner.min).all() && outer.max.cmpge(inner.max).all()
    }

    #[test]
    fn a_tree_in_parts_has_every_triangle_once_in_boxes_that_hold_it() {
        let mut dice = 7u64;
        let mut roll = || {
            dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (dice >> 40) as f32 / 1e5
        };
        let mut place = || Vec3::new(roll(), roll(), roll());
        let some = (0..3000).map(|id| {
            let a = place();
            Triangle { a, b: a + place() * 0.01, c: a + place() * 0.01, id, ..Triangle::default() }
        });
        let given: Vec<Triangle> = some.collect();
        for part in [16, 500, 10_000] {
            let mut triangles = given.clone();
            let tree = build_in_parts(&mut triangles, part);
            let mut ids: Vec<u32> = triangles.iter().map(|t| t.id).collect();
            ids.sort_unstable();
            assert!(ids.iter().copied().eq(0..3000));
            let mut under = vec![0; triangles.len()];
            let mut stack = vec![0];
            while let Some(number) = stack.pop() {
                let node = &tree.nodes[number];
                let first = node.first_index as usize;
                if node.is_leaf() {
                    for place in first..first + node.prim_count as usize {
                        assert!(holds(node.aabb(), &triangles[place].bounds()));
                        under[place] += 1;
                    }
                } else {
                    stack.extend([first, first + 1]);
                    assert!([first, first + 1].iter().all(|child| holds(node.aabb(), tree.nodes[*child].aabb())));
                }
            }
            assert!(under.iter().all(|count| *count == 1), "in parts of {part}");
        }
    }

    #[test]
    fn a_permutation_is_followed_round_by_round() {
        let triangle = |id: u32| Triangle { id, ..Triangle::default() };
        let mut triangles: Vec<Triangle> = (0..7).map(triangle).collect();
        let order = [2, 0, 1, 3, 6, 4, 5];
        put_in_order(&mut triangles, &mut order.clone());
        assert_eq!(triangles.iter().map(|t| t.id).collect::<Vec<_>>(), order);
    }
}
