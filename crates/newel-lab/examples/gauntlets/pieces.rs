//! The pieces that gauntlets are made of: what stands there, and what a player does at it.

mod kinds;

use std::fmt::Write;

use newel::Tuning;

use crate::dice::Dice;

/// How wide the way is, to either side of its middle, metres.
const HALF: f64 = 2.0;
/// How high the walls beside it are over the highest floor, metres.
const WALLS: f64 = 40.0;
/// How thick floors are, metres.
const THICK: f64 = 0.5;

impl Dice {
    /// One of so many, from 0.
    pub fn pick(&mut self, count: usize) -> usize {
        ((self.unit() * count as f64) as usize).min(count.saturating_sub(1))
    }
}

/// An action of a player, once all of its conditions hold.
pub struct Cue {
    pub when: Vec<When>,
    pub does: Vec<Do>,
}

/// A condition on the character.
pub enum When {
    /// At least so far along.
    At(f64),
    /// At least so high.
    Above(f64),
    /// On the ground.
    Standing,
    /// So long after the last cue, seconds.
    After(f64),
    /// The time since the start, modulo the first, is between the others; seconds.
    Phase(f64, f64, f64),
    /// At a whole second: what the game does is done between two ticks, and all rates have one end then.
    Second,
}

/// Something that a player does.
#[derive(Clone, Copy)]
pub enum Do {
    /// Heads this way: ahead, and to the right.
    Head(f64, f64),
    /// Presses a button for so many seconds.
    Press(&'static str, f64),
    /// Wants a stance.
    Stance(&'static str),
    /// Flips its own gravity.
    Flip,
    /// Is put so much further along, swept.
    Displace(f64),
    /// Is thrown: ahead and up.
    Launch(f64, f64),
    /// Is slowed, or no longer.
    Speed(f64),
}

/// A gauntlet under construction.
pub struct Gauntlet {
    /// Its terrain, zones, sensors and surfaces, as they stand in a course.
    pub text: String,
    pub cues: Vec<Cue>,
    /// The pieces, and where each ends.
    pub pieces: Vec<(&'static str, f64)>,
    pub preset: &'static str,
    x: f64,
    y: f64,
    /// The lowest and the highest floor so far.
    low: f64,
    high: f64,
    solids: usize,
    tuning: Tuning,
}

/// Every kind of piece by its name, and what makes one.
type Maker = fn(&mut Gauntlet, &mut Dice);
pub const KINDS: &[(&str, Maker)] = &[
    ("flat", kinds::flat),
    ("stairs up", kinds::stairs_up),
    ("stairs down", kinds::stairs_down),
    ("slope up", kinds::slope_up),
    ("slope down", kinds::slope_down),
    ("gap", kinds::gap),
    ("ladder", kinds::ladder),
    ("pool", kinds::pool),
    ("lift", kinds::lift),
    ("turntable", kinds::turntable),
    ("flip", kinds::flip),
    ("flipped by itself", kinds::flip_itself),
    ("pad", kinds::pad),
    ("thrown", kinds::thrown),
    ("low ceiling", kinds::low_ceiling),
    ("crawl", kinds::crawl),
    ("one-way up", kinds::one_way_up),
    ("one-way down", kinds::one_way_down),
    ("belt", kinds::belt),
    ("ledge", kinds::ledge),
    ("vault", kinds::vault),
    ("wind", kinds::wind),
    ("hover", kinds::hover),
    ("slide", kinds::slide),
    ("dash", kinds::dash),
    ("light", kinds::light),
    ("ice", kinds::ice),
    ("gate", kinds::gate),
    ("displaced", kinds::displaced),
    ("slowed", kinds::slowed),
    ("sprint", kinds::sprint),
    ("posts", kinds::posts),
];

impl Gauntlet {
    pub fn new(preset: &'static str, tuning: Tuning) -> Gauntlet {
        let mut gauntlet = Gauntlet {
            text: String::new(),
            cues: Vec::new(),
            pieces: Vec::new(),
            preset,
            x: -2.0,
            y: 0.0,
            low: 0.0,
            high: 0.0,
            solids: 0,
            tuning,
        };
        gauntlet.floor(4.0);
        gauntlet.cue([When::After(0.3)], [Do::Head(1.0, 0.0)]);
        gauntlet
    }

    /// Adds a piece, and a bit of floor after it.
    pub fn add(&mut self, (name, make): (&'static str, Maker), dice: &mut Dice) {
        let begins = self.x;
        make(self, dice);
        let _ = writeln!(
            self.text,
            "[[sensor]]\nname = \"{name} {begins:.1}\"\nfrom = [{:.4}, {:.3}, -3]\nto = [{:.4}, {:.3}, 3]",
            self.x + 0.1,
            self.y - 1.0,
            self.x + 0.2,
            self.y + 4.0
        );
        self.floor(dice.between(1.5, 3.0));
        self.pieces.push((name, self.x));
    }

    /// The walls beside it and at its end; the whole course, without a script.
    pub fn finish(&mut self) -> String {
        let (long, high) = (self.x + 4.0, self.high - self.low + WALLS);
        for z in [-HALF - 0.25, HALF + 0.25] {
            self.solid(
                "box",
                [0.5 * self.x, self.low - 4.0, z],
                &format!("size = [{:.4}, {high:.3}, 0.5]", long + 8.0),
            );
        }
        self.solid("box", [self.x + 0.5, self.low - 4.0, 0.0], &format!("size = [1, {high:.3}, 5]"));
        format!(
            "title = \"A gauntlet\"\n[spawn]\nposition = [0, 0, 0]\nfacing = [1, 0, 0]\n[tuning]\npreset = \"{}\"\n\
             crouch = true\nprone = true\nslide = true\nhover = true\nclimb = true\nledge = true\nvault = true\nswim = true\n\
             sprint = true\ndash = true\nground.windage = 0.15\n{}",
            self.preset, self.text
        )
    }

    /// Where it ends, metres along.
    pub fn end(&self) -> f64 {
        self.x - 1.5
    }

    fn cue<const A: usize, const B: usize>(&mut self, when: [When; A], does: [Do; B]) {
        self.cues.push(Cue { when: when.into(), does: does.into() });
    }

    fn solid(&mut self, kind: &str, at: [f64; 3], fields: &str) {
        self.solids += 1;
        let [x, y, z] = at;
        let _ = writeln!(self.text, "[[terrain]]\nkind = \"{kind}\"\nat = [{x:.4}, {y:.4}, {z:.4}]\n{fields}");
    }

    /// A box from `x` to `x + long` with its top at `top`.
    fn block(&mut self, (x, long): (f64, f64), (bottom, top): (f64, f64), fields: &str) {
        let size = format!("size = [{long:.4}, {:.4}, {:.1}]\n{fields}", top - bottom, 2.0 * HALF);
        self.solid("box", [x + 0.5 * long, bottom, 0.0], &size);
    }

    /// A floor ahead, `long` metres of it.
    fn floor(&mut self, long: f64) {
        let (x, y) = (self.x, self.y);
        self.block((x, long), (y - THICK, y), "");
        self.x += long;
        (self.low, self.high) = (self.low.min(y), self.high.max(y));
    }

    /// A floor of another surface.
    fn floor_of(&mut self, long: f64, fields: &str) {
        let (x, y) = (self.x, self.y);
        self.block((x, long), (y - THICK, y), fields);
        self.x += long;
    }

    /// A step of the way, up or down, to where the next piece begins.
    fn rise(&mut self, by: f64) {
        self.y += by;
        (self.low, self.high) = (self.low.min(self.y), self.high.max(self.y));
    }

    fn surface(&mut self, fields: &str) -> String {
        let name = format!("surface {}", self.solids);
        let _ = writeln!(self.text, "[[surface]]\nname = \"{name}\"\n{fields}");
        format!("surface = \"{name}\"")
    }

    fn zone(&mut self, from: [f64; 3], to: [f64; 3], fields: &str) {
        let _ = writeln!(
            self.text,
            "[[zone]]\nfrom = [{:.4}, {:.4}, {:.4}]\nto = [{:.4}, {:.4}, {:.4}]\n{fields}",
            from[0], from[1], from[2], to[0], to[1], to[2]
        );
    }

    /// How far a full jump leads over level ground, metres.
    fn jump_length(&self) -> f64 {
        let values = self.tuning.values();
        let air = f64::from(values.ground.speed) * f64::from(values.air.speed).min(1.0);
        let up = self.tuning.take_off_speed();
        air * (up / self.tuning.rising_gravity() + (2.0 * self.jump_height() / self.tuning.falling_gravity()).sqrt())
    }

    fn jump_height(&self) -> f64 {
        self.tuning.values().jump.map_or(0.0, |jump| f64::from(jump.height))
    }

    fn height(&self) -> f64 {
        f64::from(self.tuning.shape().height)
    }
}
