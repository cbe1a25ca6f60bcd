//! Where links are worth looking for: at the rim of what can be walked, toward ground that walking does not lead to.

use std::sync::Arc;

use newel::glam::{DVec2, DVec3};
use newel::{Character, Intent, Takes};

use crate::budget::OutOfBudget;
use crate::legs::Legs;
use crate::link::{Link, Script, try_out};
use crate::tile::{NO_WAY, SIDE, Tile, WAYS};

/// Links lead this far ahead at most, metres: a drop, what is done by hand. A jump leads as far as its speed does in this many seconds.
const DROPS: f64 = 3.0;
const BY_HAND: f64 = 2.0;
const JUMPS: f64 = 1.3;
/// And to what lies no further aside than this, metres.
const ASIDE: f64 = 1.0;
/// A run-up is this much longer than what full speed takes.
const RUN_UP: f64 = 1.1;
/// Ticks this long find when a run-up is over, seconds.
const RUN_TICK: f64 = 1.0 / 60.0;
/// At a wall it jumps so soon after it sets out, seconds.
const AT_ONCE: f64 = 0.1;
/// Cost of a search from a rim, in places.
const AT_A_RIM: u64 = 10;
/// The tiles of a neighbourhood along each side, and the one in the middle.
const TILES: usize = 3;
const MIDDLE: usize = 4;

/// A tile and those around it, and which of their places can be walked to from which.
pub(crate) struct Neighbourhood {
    tiles: [Arc<Tile>; TILES * TILES],
    /// Where the nodes of each tile begin among all.
    first: [usize; TILES * TILES],
    /// Of each node, one that stands for all that it can be walked to and from.
    piece: Vec<u32>,
}

/// A node of a neighbourhood: its tile and its number there.
type Place = (usize, usize);

impl Neighbourhood {
    /// The tiles in rows, from the lowest numbers up.
    pub fn new(tiles: [Arc<Tile>; TILES * TILES]) -> Neighbourhood {
        let (mut first, mut count) = ([0; TILES * TILES], 0);
        for (from, tile) in first.iter_mut().zip(&tiles) {
            *from = count;
            count += tile.nodes.len();
        }
        let pieces = first
            .iter()
            .zip(&tiles)
            .flat_map(|(first, tile)| tile.piece.iter().map(move |piece| (first + usize::from(*piece)) as u32));
        let mut all = Neighbourhood { first, piece: pieces.collect(), tiles: tiles.clone() };
        all.join_pieces();
        all
    }

    /// Joins the pieces of tiles that lead into each other both ways.
    fn join_pieces(&mut self) {
        let is_border = |column: usize| [column % SIDE, column / SIDE].iter().any(|n| [0, SIDE - 1].contains(n));
        for tile in 0..TILES * TILES {
            for column in (0..SIDE * SIDE).filter(|column| is_border(*column)) {
                let (first, floors) = self.tiles[tile].floors(column);
                for (node, way) in (first..first + floors.len()).flat_map(|node| (0..4).map(move |way| (node, way))) {
                    let Some(other) = self.walked_to((tile, node), way) else { continue };
                    if self.walked_to(other, way + 4) == Some((tile, node)) {
                        let (a, b) = (self.find(self.number((tile, node))), self.find(self.number(other)));
                        self.piece[a.max(b) as usize] = a.min(b);
                    }
                }
            }
        }
    }

    fn number(&self, (tile, node): Place) -> u32 {
        (self.first[tile] + node) as u32
    }

    fn find(&mut self, mut number: u32) -> u32 {
        while self.piece[number as usize] != number {
            self.piece[number as usize] = self.piece[self.piece[number as usize] as usize];
            number = self.piece[number as usize];
        }
        number
    }

    fn piece_of(&mut self, place: Place) -> u32 {
        self.find(self.number(place))
    }

    fn position(&self, (tile, node): Place) -> DVec3 {
        self.tiles[tile].place(&self.tiles[tile].nodes[node])
    }

    /// The node that a step this way leads to, if that is in the neighbourhood.
    fn walked_to(&self, (tile, node): Place, way: usize) -> Option<Place> {
        let floor = self.tiles[tile].nodes[node].next[way];
        if floor == NO_WAY {
            return None;
        }
        let [i, k] = WAYS[way];
        let (at, column) = self.shifted(tile, self.tiles[tile].column_of(node), [i, k])?;
        let (first, floors) = self.tiles[at].floors(column);
        (usize::from(floor) < floors.len()).then(|| (at, first + usize::from(floor)))
    }

    /// The column so many off, and its tile.
    fn shifted(&self, tile: usize, column: usize, by: [i32; 2]) -> Option<(usize, usize)> {
        let side = SIDE as i32;
        let i = (tile % TILES) as i32 * side + (column % SIDE) as i32 + by[0];
        let k = (tile / TILES) as i32 * side + (column / SIDE) as i32 + by[1];
        let all = 0..TILES as i32 * side;
        (all.contains(&i) && all.contains(&k)).then(|| {
            let (i, k) = (i as usize, k as usize);
            (k / SIDE * TILES + i / SIDE, k % SIDE * SIDE + i % SIDE)
        })
    }

    /// True where there is ground ahead of a node that walking does not lead to: no further off than `far`, and between two heights over it.
    fn is_ground_ahead(&mut self, legs: &Legs<'_>, from: Place, along: DVec3, far: f64, rise: [f64; 2]) -> bool {
        let (mine, here) = (self.piece_of(from), self.position(from));
        let column = self.tiles[from.0].column_of(from.1);
        let reach = (far.hypot(ASIDE) / legs.survey.cell).ceil() as i32;
        let aside = along.cross(legs.frame.up);
        for by in (-reach..=reach).flat_map(|k| (-reach..=reach).map(move |i| [i, k])) {
            let Some((tile, column)) = self.shifted(from.0, column, by) else { continue };
            let (first, floors) = self.tiles[tile].floors(column);
            for node in first..first + floors.len() {
                let way = self.position((tile, node)) - here;
                let (ahead, height) = (way.dot(along), way.dot(legs.frame.up));
                let there = ahead > 0.0 && ahead <= far && way.dot(aside).abs() <= ASIDE;
                if there && (rise[0]..=rise[1]).contains(&height) && self.piece_of((tile, node)) != mine {
                    return true;
                }
            }
        }
        false
    }
}

/// The links of the middle tile of a neighbourhood being looked for, node by node.
pub(crate) struct Linking {
    around: Neighbourhood,
    /// Nodes done with.
    done: usize,
    links: Vec<Link>,
}

impl Linking {
    pub fn new(tiles: [Arc<Tile>; TILES * TILES]) -> Linking {
        Linking { around: Neighbourhood::new(tiles), done: 0, links: Vec::new() }
    }

    /// Goes on with it, as far as the budget reaches.
    pub fn work(&mut self, legs: &mut Legs<'_>) -> Result<(), OutOfBudget> {
        while self.done < self.around.tiles[MIDDLE].nodes.len() {
            legs.budget.check()?;
            self.look_from(legs, self.done);
            self.done += 1;
        }
        Ok(())
    }

    fn look_from(&mut self, legs: &mut Legs<'_>, node: usize) {
        let around = &mut self.around;
        let next = around.tiles[MIDDLE].nodes[node].next;
        if !next.contains(&NO_WAY) {
            return;
        }
        legs.budget.spend(AT_A_RIM);
        let column = around.tiles[MIDDLE].column_of(node);
        for way in ways_to_try(&next) {
            // Along an edge every other one is enough.
            if (column % SIDE + column / SIDE) % 2 == 1 && around.goes_on_beside(node, way) {
                continue;
            }
            try_way(legs, around, node, way, &mut self.links);
        }
    }

    /// All links, by the node they begin at.
    pub fn finish(mut self) -> Vec<Link> {
        // A run-up begins elsewhere than where it was looked for.
        self.links.sort_by_key(|link| link.from);
        self.links
    }
}

/// The middle one of every run of neighbours that cannot be walked to.
fn ways_to_try(next: &[u8; 8]) -> Vec<usize> {
    let shut = |way: usize| next[way % 8] == NO_WAY;
    if (0..8).all(shut) {
        return vec![0, 2, 4, 6];
    }
    let begins = (0..8).filter(|&way| shut(way) && !shut(way + 7));
    let runs = begins.map(|from| (from, (from..from + 8).take_while(|&way| shut(way)).count()));
    runs.map(|(from, run)| (from + run / 2) % 8).collect()
}

/// Tries what leads on this way from a node where walking does not.
fn try_way(legs: &mut Legs<'_>, around: &mut Neighbourhood, node: usize, way: usize, links: &mut Vec<Link>) {
    let [i, k] = WAYS[way];
    let along = legs.frame.place(DVec2::new(f64::from(i), f64::from(k)), 0.0).normalize();
    let worth = Worth::of(legs, around, node, along);
    if !worth.any() {
        return;
    }
    let Some(who) = stand_at(legs, around, node) else { return };
    let plain = Script { way: along.as_vec3(), jumps: None, grabs: false };
    let by = |worth: bool, script: Script| worth.then(|| (node, who.clone(), script));
    let grabs = Script { grabs: true, ..plain };
    let jumps = |after: f64| Script { jumps: Some(after), ..plain };
    let with_catch = |jump: Option<(usize, Character, Script)>| [jump.clone(), worth.caught(jump)];
    // The plainest link to a place is enough.
    let tries = if is_open(legs, &who, along) {
        let run = worth.jump.then(|| run_up(legs, around, (node, &who), way)).flatten();
        let jump = run.or(by(worth.jump, jumps(0.0)));
        [vec![by(worth.drop, plain), by(worth.down_by_hand, grabs)], with_catch(jump).to_vec()]
    } else {
        let jump = by(worth.jump_up, jumps(AT_ONCE));
        let [jump, caught] = with_catch(jump);
        [vec![by(worth.up_by_hand, plain), by(worth.up_by_button, grabs), jump, caught], Vec::new()]
    };
    for kind in tries {
        let found = kind.into_iter().flatten().find_map(|(start, who, script)| {
            let link = try_out(legs, &who, script).filter(|link| around.leads_off(legs, node, link.lands))?;
            Some(Link { from: start as u16, ..link })
        });
        links.extend(found);
    }
}

/// Links worth trying in one direction.
#[derive(Clone, Copy, Default)]
struct Worth {
    drop: bool,
    jump: bool,
    down_by_hand: bool,
    up_by_hand: bool,
    /// Climbing and catching take the grab button.
    up_by_button: bool,
    caught_by_button: bool,
    jump_up: bool,
}

impl Worth {
    fn of(legs: &Legs<'_>, around: &mut Neighbourhood, node: usize, along: DVec3) -> Worth {
        let (values, survey) = (legs.real.values(), legs.survey);
        let jump = values.jump.filter(|_| survey.jumps);
        let hands = survey.climbs && (values.climb.is_some() || values.ledge.is_some());
        let over = survey.climbs && values.vault.is_some();
        let reach = values.ledge.filter(|_| survey.climbs).map_or(0.0, |ledge| f64::from(ledge.highest));
        let climbs = if survey.climbs && values.climb.is_some() { f64::INFINITY } else { reach.max(2.0) };
        let high = jump.map_or(0.0, |jump| f64::from(jump.height)) + reach;
        let low = -survey.drop.max(legs.step());
        let takes = [values.climb.map(|climb| climb.takes), values.ledge.map(|ledge| ledge.takes)];
        let by_button = hands && takes.contains(&Some(Takes::Button));
        let mut ahead = |far: f64, rise: [f64; 2]| around.is_ground_ahead(legs, (MIDDLE, node), along, far, rise);
        Worth {
            drop: survey.drop > 0.0 && ahead(DROPS, [low, 0.0]),
            jump: jump.is_some() && ahead(JUMPS * f64::from(values.ground.speed), [low, high]),
            down_by_hand: hands && ahead(BY_HAND, [-climbs, 0.0]),
            up_by_button: by_button && ahead(BY_HAND, [-1.0, climbs]),
            caught_by_button: values.ledge.is_some_and(|ledge| ledge.takes == Takes::Button) && survey.climbs,
            up_by_hand: (hands || over) && ahead(BY_HAND + f64::from(u8::from(over)), [-1.0, climbs]),
            jump_up: jump.is_some() && ahead(BY_HAND, [0.0, high]),
        }
    }

    /// The same jump holding the grab button, where a ledge may be caught so.
    fn caught(self, jump: Option<(usize, Character, Script)>) -> Option<(usize, Character, Script)> {
        let by_hand = |(start, who, script)| (start, who, Script { grabs: true, ..script });
        jump.filter(|_| self.caught_by_button).map(by_hand)
    }

    fn any(self) -> bool {
        self.drop || self.up_by_button || self.jump || self.down_by_hand || self.up_by_hand || self.jump_up
    }
}

impl Neighbourhood {
    /// True where the edge that a node is at, seen this way, goes on at a node beside it.
    fn goes_on_beside(&self, node: usize, way: usize) -> bool {
        let sides = [(way + 2) % 8, (way + 6) % 8].map(|side| self.walked_to((MIDDLE, node), side));
        let ends_so = |(tile, node): Place| ways_to_try(&self.tiles[tile].nodes[node].next).contains(&way);
        sides.into_iter().flatten().any(ends_so)
    }

    /// True where a link leads to ground that walking does not lead to, or out of the neighbourhood.
    fn leads_off(&mut self, legs: &Legs<'_>, node: usize, lands: DVec3) -> bool {
        let here = self.position((MIDDLE, node));
        let off = (legs.frame.map(lands) - legs.frame.map(here)) / legs.survey.cell;
        let column = self.tiles[MIDDLE].column_of(node);
        let near = (-1..=1).flat_map(|k| (-1..=1).map(move |i| [i, k]));
        let mut best: Option<(f64, Place)> = None;
        for [i, k] in near {
            let by = [off.x.round() as i32 + i, off.y.round() as i32 + k];
            let Some((tile, column)) = self.shifted(MIDDLE, column, by) else { return true };
            let (first, floors) = self.tiles[tile].floors(column);
            for other in first..first + floors.len() {
                let far = (self.position((tile, other)) - lands).length();
                if best.is_none_or(|(least, _)| far < least) {
                    best = Some((far, (tile, other)));
                }
            }
        }
        let mine = self.piece_of((MIDDLE, node));
        best.is_some_and(|(_, place)| self.piece_of(place) != mine)
    }
}

fn stand_at(legs: &mut Legs<'_>, around: &Neighbourhood, node: usize) -> Option<Character> {
    let stance = around.tiles[MIDDLE].nodes[node].stance;
    legs.stand_as(around.position((MIDDLE, node)), 1e-3, &[stance])
}

/// True where the ground ends within two cells, rather than something being in the way.
fn is_open(legs: &mut Legs<'_>, who: &Character, along: DVec3) -> bool {
    let (mut it, cell) = (who.clone(), legs.survey.cell);
    !(0..2).all(|_| legs.go(&mut it, along * cell))
}

/// A jump at the edge out of a run: the node straight behind from which there is time for full speed, and when to jump.
fn run_up(
    legs: &mut Legs<'_>,
    around: &Neighbourhood,
    (edge, there): (usize, &Character),
    way: usize,
) -> Option<(usize, Character, Script)> {
    let ground = legs.real.values().ground;
    let far = f64::from(ground.speed * ground.speed / (2.0 * ground.acceleration)) * RUN_UP;
    let mut node = edge;
    while legs.frame.across(around.position((MIDDLE, node)), there.position) < far {
        let (tile, behind) = around.walked_to((MIDDLE, node), (way + 4) % 8)?;
        node = Some(behind).filter(|_| tile == MIDDLE)?;
    }
    let who = stand_at(legs, around, node)?;
    let along = legs.frame.direction(there.position - who.position)?;
    let goal = legs.frame.across(who.position, there.position);
    let script = Script { way: along.as_vec3(), jumps: None, grabs: false };
    let (mut it, mut gone, mut time) = (who.clone(), 0.0, 0.0);
    while gone < goal && time < 5.0 {
        legs.play_for_real(&mut it, &script.intent(Intent::default(), time, RUN_TICK, false), RUN_TICK)?;
        let now = legs.frame.across(who.position, it.position);
        if now >= goal {
            let part = (goal - gone) / (now - gone).max(1e-9);
            return Some((node, who, Script { jumps: Some(time + part * RUN_TICK), ..script }));
        }
        (gone, time) = (now, time + RUN_TICK);
    }
    None
}
