//! What a character does in a scene, whose time is its own.

use newel::glam::{DQuat, DVec3};
use newel::{
    Character, Ending, Event, EventKind, Intent, Key, Modifiers, Scene, Spawn, Tick, Track, Tuning, Workspace,
};

pub struct Ascent {
    pub scene: Scene,
    pub tuning: Tuning,
    pub hero: Character,
    pub work: Workspace,
    pub modifiers: Modifiers,
    pub events: Vec<Event>,
}

impl Ascent {
    pub fn new(scene: Scene, tuning: Tuning, at: [f64; 3]) -> Ascent {
        let hero = Character::spawn(&scene, &tuning, Spawn::at(at)).expect("a clear place");
        Ascent { scene, tuning, hero, work: Workspace::new(), modifiers: Modifiers::default(), events: Vec::new() }
    }

    pub fn until(&mut self, end: f64, rate: f64, intent: Intent) -> &mut Ascent {
        while self.hero.clock < end - 2e-9 {
            let dt = (1.0 / rate).min(end - self.hero.clock);
            self.scene.time = self.hero.clock;
            let tick = Tick { number: 0, terrain: &self.scene, tuning: &self.tuning, modifiers: &self.modifiers, dt };
            let outcome = tick.step(&mut self.work, &mut self.hero, &intent, &[]).expect("a valid tick");
            self.events.extend(outcome.events);
        }
        self
    }

    pub fn when(&self, is: impl Fn(&EventKind) -> bool) -> Option<Event> {
        self.events.iter().find(|e| is(&e.kind)).copied()
    }
}

/// What glides and what turns, there and back in eight seconds, for ever.
pub fn carriers() -> [(&'static str, Track); 2] {
    let lift = vec![Key::at(0.0, DVec3::ZERO), Key::at(4.0, DVec3::new(1.0, 3.0, -2.0)), Key::at(8.0, DVec3::ZERO)];
    let turn = |t: f64, angle: f64| Key::at(t, DVec3::ZERO).turned(DQuat::from_rotation_y(angle));
    let carousel = vec![turn(0.0, 0.0), turn(4.0, 2.0), turn(8.0, 0.0)];
    let track = |keys| Track::new(keys, Ending::Again).expect("a track");
    [("a lift", track(lift)), ("a carousel", track(carousel))]
}
