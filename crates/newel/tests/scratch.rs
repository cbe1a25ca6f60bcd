//! scratch
mod common;
use common::World;
use newel::glam::*;
use newel::*;
#[test]
fn door() {
    let rate = 15.0;
    let door = World::new().block([-0.2, 0.0, -2.0], [0.0, 3.0, 2.0]).mesh();
    let floor = World::new().floor(30.0, 0.0).block([4.0, 0.0, -9.0], [5.0, 3.0, 9.0]).mesh();
    let track = Track::new(vec![Key::at(0.0, [-2.0, 0.0, 0.0]), Key::at(4.0, [4.2, 0.0, 0.0])], Ending::Stay).unwrap();
    let mut scene = Scene::new().with(floor).with_moving(9, door, track);
    let tuning = Tuning::walker();
    let mut hero = Character::spawn(&scene, &tuning, [0.0; 3]).unwrap();
    let mut work = Workspace::new();
    for i in 0..60 {
        let t = Tick { number: 0, terrain: &scene, tuning: &tuning, modifiers: &Modifiers::default(), dt: 1.0 / rate };
        let o = t.step(&mut work, &mut hero, &Intent::default(), &[]).unwrap();
        if i > 45 {
            println!(
                "{:.4} x {:.5} v {:.4} door {:.5} {:?}",
                hero.clock,
                hero.position.x,
                hero.velocity.x,
                -2.0 + 6.2 / 4.0 * hero.clock,
                o.events.iter().map(|e| (e.time, e.kind)).collect::<Vec<_>>()
            );
        }
        scene.time += 1.0 / rate;
    }
}
