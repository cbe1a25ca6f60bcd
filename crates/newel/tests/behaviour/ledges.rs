//! Ledges found from the geometry alone: what the tuning says is got up onto, over or caught is, what it does not is not.

use crate::common::oracle::Dice;
use crate::common::scenes::{Ascent, carriers};
use crate::common::script::Script;
use crate::common::{SIX_RATES, Walk, World, east};
use newel::glam::{DVec3, Vec2, Vec3};
use newel::{
    Button, Change, Ending, Event, EventKind, Heading, HoldEnd, Intent, Key, Ledge, Mode, Phase, Scene, Stance, Track,
    Tuning, TuningValues, Vault,
};

const RATE: f64 = 1.0 / 60.0;

fn tuned(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = TuningValues { ledge: Some(Ledge::default()), ..TuningValues::default() };
    change(&mut values);
    Tuning::new(values).expect("a tuning")
}

/// A floor and a block of a height, its face at x = 1; its top, and the floor before it, may rise ahead or aside, as so many metres
/// a metre.
fn block(height: f64, ahead: f64, aside: f64, floor: f64) -> World {
    let top = |x: f64, z: f64| DVec3::new(x, height + (x - 1.0) * ahead + z * aside, z);
    let ground = |x: f64, z: f64| DVec3::new(x, (x - 0.7) * floor, z);
    let low = |z: f64| DVec3::new(1.0, -30.0, z);
    World::new()
        .quad(ground(-20.0, 8.0), ground(1.0, 8.0), ground(1.0, -8.0), ground(-20.0, -8.0))
        .quad(top(1.0, 8.0), top(30.0, 8.0), top(30.0, -8.0), top(1.0, -8.0))
        .quad(low(-8.0), low(8.0), top(1.0, 8.0), top(1.0, -8.0))
}

/// The same surface cut up at random without shared corners, every other piece turned over.
fn shattered(world: &World, dice: &mut Dice) -> World {
    let corner = |i: u32| DVec3::from_array(world.corners[i as usize]);
    let mut pieces: Vec<[DVec3; 3]> =
        world.indices.chunks_exact(3).map(|t| [corner(t[0]), corner(t[1]), corner(t[2])]).collect();
    for _ in 0..4 {
        pieces = pieces
            .iter()
            .flat_map(|&[a, b, c]| {
                // The longest side, so that nothing becomes a needle; at a place of its own, so that corners meet sides.
                let lengths = [(b - a).length(), (c - b).length(), (a - c).length()];
                let [a, b, c] = match lengths.iter().copied().fold(0.0, f64::max) {
                    most if most == lengths[0] => [a, b, c],
                    most if most == lengths[1] => [b, c, a],
                    _ => [c, a, b],
                };
                let cut = a + (b - a) * dice.between(0.3, 0.7);
                if dice.pick(2) == 0 { [[a, cut, c], [cut, b, c]] } else { [[c, cut, a], [cut, b, c]] }
            })
            .collect();
    }
    pieces.iter().fold(World::new(), |world, t| world.triangle(t[0], t[1], t[2]))
}

/// Up from the ground only: it catches nothing in the air.
fn from_the_ground() -> Tuning {
    tuned(|v| {
        (v.ground.step, v.ledge) = (0.2, Some(Ledge { hang: 1.2345, reach: 0.0, below: 0.0, ..Ledge::default() }))
    })
}

fn pulled_up(kind: &EventKind) -> bool {
    matches!(kind, EventKind::PulledUp { .. })
}

/// Walks at it until it has come up, or for as long as that would take.
fn attempt(world: World, tuning: Tuning, heading: Vec3) -> (Walk, Option<Event>) {
    let mut walk = Walk::new(world, tuning, [0.3, 0.3, 0.0]);
    for _ in 0..220 {
        walk.tick(RATE, Intent::toward(heading));
        if walk.hero.mode == Mode::Ground && walk.first(|k| matches!(k, EventKind::LedgeLeft { .. })).is_some() {
            break;
        }
    }
    let event = walk.first(pulled_up).copied();
    (walk, event)
}

#[test]
fn from_the_ground_ledges_of_the_tuned_heights_are_got_up_onto_and_no_others() {
    let (mut tried, mut up, mut wrong) = (0, 0, Vec::new());
    let tan = |degrees: f64| degrees.to_radians().tan();
    let slopes = [
        (0.0, 0.0, 0.0),
        (30.0, 0.0, 0.0),
        (-30.0, 0.0, 0.0),
        (0.0, 25.0, 0.0),
        (0.0, 0.0, 30.0),
        (15.0, -15.0, 15.0),
        (0.0, 0.0, -20.0),
    ];
    for (number, (ahead, aside, floor)) in slopes.into_iter().enumerate() {
        for angle in [0.0, 20.0, -43.0, 47.0f64] {
            for foreign in [false, true] {
                for cm in 30..=250 {
                    let height = f64::from(cm) / 100.0;
                    let world = block(height, tan(ahead), tan(aside), tan(floor));
                    let mut dice = Dice(cm as u64 * 31 + number as u64);
                    let world = if foreign { shattered(&world, &mut dice) } else { world };
                    let (sin, cos) = (angle.to_radians().sin(), angle.to_radians().cos());
                    let (walk, event) = attempt(world, from_the_ground(), Vec3::new(cos as f32, 0.0, sin as f32));
                    tried += 1;
                    up += i32::from(event.is_some());
                    // As high as the lip was over the feet, where it stood before it; on the very limits either will do.
                    let feet = event.map_or(walk.hero.position, |e| e.place);
                    let lip = height + feet.z * tan(aside) - feet.y;
                    let near = (lip - 0.5).abs() < 2e-3 || (lip - 1.6).abs() < 2e-3;
                    let tuned = (0.5..=1.6).contains(&lip) && angle.abs() < 45.0;
                    let done = walk.first(|k| *k == EventKind::LedgeLeft { reason: HoldEnd::Done }).is_some();
                    let stands = walk.hero.mode == Mode::Ground && walk.hero.position.x > 1.0;
                    if !near && (event.is_some() != tuned || done != tuned || (tuned && !stands)) {
                        wrong.push(format!(
                            "{ahead} {aside} {floor}, {angle}°, {foreign}, {height} m: {lip} {event:?} {}",
                            walk.hero.position
                        ));
                    }
                }
            }
        }
    }
    println!("{tried} walks, {up} got up");
    assert!(wrong.is_empty() && up > 400, "{}:\n{}", wrong.len(), wrong[..wrong.len().min(12)].join("\n"));
}

#[test]
fn where_there_is_no_room_to_stand_it_comes_up_in_a_crouch_and_where_there_is_none_for_that_not_at_all() {
    let (stands, crouches) = (Tuning::walker().shape().height, Tuning::walker().shape_in(Stance::Crouch).height);
    for room in (80..=200).step_by(1) {
        for (height, slant) in [(0.9, 0.0), (1.5, 0.15)] {
            let room = f64::from(room) / 100.0;
            let lid = World::new().quad(
                DVec3::new(0.95, height + room, 9.0),
                DVec3::new(9.0, height + room + 8.05 * slant, 9.0),
                DVec3::new(9.0, height + room + 8.05 * slant, -9.0),
                DVec3::new(0.95, height + room, -9.0),
            );
            let (walk, event) = attempt(block(height, 0.0, 0.0, 0.0).and(lid), from_the_ground(), Vec3::X);
            // What slants over the edge leaves a little less room at the shoulder than over the head; within 2 cm either will do.
            let clear = |needs: f32| room - f64::from(needs);
            if clear(stands).abs() < 0.02 || clear(crouches).abs() < 0.02 {
                continue;
            }
            let expected = match room {
                _ if clear(stands) > 0.0 => Some(Stance::Stand),
                _ if clear(crouches) > 0.0 => Some(Stance::Crouch),
                _ => None,
            };
            assert_eq!(event.is_some(), expected.is_some(), "{height} m, room of {room}: {:?}", walk.hero.position);
            if let Some(stance) = expected {
                assert_eq!(walk.hero.stance, stance, "{height} m, room of {room}");
                assert!((walk.hero.position.y - height).abs() < 1e-3 && walk.hero.position.x > 1.0);
            }
        }
    }
}

/// A wall of a height and thickness across the way, its face at x = 1, and the ground beyond it `beyond` metres higher.
fn fence(height: f64, thick: f64, beyond: f64) -> World {
    let far = World::new().block([1.0 + thick, -9.0, -8.0], [30.0, beyond, 8.0]);
    World::new()
        .block([-20.0, -1.0, -8.0], [1.0, 0.0, 8.0])
        .and(far)
        .block([1.0, -9.0, -8.0], [1.0 + thick, height, 8.0])
}

#[test]
fn what_is_low_and_thin_is_gone_over_at_a_run_and_run_on_from() {
    let vault = Vault::default();
    let tuning = || tuned(|v| (v.vault, v.ledge) = (Some(vault), None));
    for rate in SIX_RATES {
        for cm in (30..=130).step_by(2) {
            for (thick, beyond) in [(0.1, 0.0), (0.5, 0.0), (0.58, -0.9), (0.7, 0.0), (0.3, -1.1)] {
                let height = f64::from(cm) / 100.0;
                let mut walk = Walk::new(fence(height, thick, beyond), tuning(), [-2.0, 0.0, 0.0]);
                let mut clock = 0.0;
                while clock < 2.2 {
                    walk.tick(1.0 / rate, east());
                    clock += 1.0 / rate;
                }
                let vaulted = walk.first(|k| matches!(k, EventKind::Vaulted { .. })).copied();
                let tuned = (40..=110).contains(&cm) && thick <= 0.6 && beyond >= -1.0;
                assert_eq!(
                    vaulted.is_some(),
                    tuned,
                    "{height} m, {thick} m thick, {beyond}: {} {:?}",
                    walk.hero.position,
                    walk.events
                );
                let Some(event) = vaulted else { continue };
                let over = walk.first(|k| *k == EventKind::LedgeLeft { reason: HoldEnd::Done }).expect("over it");
                assert!(
                    (over.time - event.time - f64::from(vault.time)).abs() < 2e-5,
                    "{rate} Hz: {}",
                    over.time - event.time
                );
                // Up and over at one speed: the two legs in the time.
                let radius = f64::from(walk.tuning.shape().radius);
                let way = (height + 1e-3, 2.0 * radius + thick + 0.02);
                let end = DVec3::new(1.0 - radius + way.1, way.0, 0.0);
                assert!((over.place - end).length() < 2e-3, "{rate} Hz, {height} m: {} {end}", over.place);
                let speed = ((way.0 + way.1) / f64::from(vault.time)).min(4.5);
                assert!((over.velocity.x - speed).abs() < 0.01, "{rate} Hz: {} {speed}", over.velocity);
            }
        }
        // Too slow: it is in the way.
        let mut walk = Walk::new(fence(0.8, 0.2, 0.0), tuning(), [0.0, 0.0, 0.0]);
        walk.go(1.0 / rate, 2.0, Intent::toward(Vec3::X * 0.4));
        assert!(walk.hero.position.x < 0.71 && walk.hero.mode == Mode::Ground, "{rate} Hz: {}", walk.hero.position);
    }
}

/// In the air before a block it catches its edge and hangs.
fn hanging(world: World, at: [f64; 3], into: Vec3, rate: f64) -> Walk {
    let mut walk = Walk::new(world, tuned(|_| {}), at);
    walk.go(1.0 / rate, 0.5, Intent::toward(into));
    assert!(walk.hero.mode == Mode::Ledge && walk.hero.phase == Phase::Plain, "{rate} Hz: {:?}", walk.events);
    walk
}

#[test]
fn what_is_in_reach_is_caught_hung_from_and_pulled_up_onto_in_the_tuned_times() {
    let ledge = Ledge::default();
    for rate in SIX_RATES {
        for cm in 5..=340 {
            if rate != 60.0 && cm % 20 != 0 && cm != 290 {
                continue;
            }
            // From standing before it a jump of 1.1 m: the hands reach 1.8 m over the feet.
            let height = f64::from(cm) / 100.0;
            let mut walk = Walk::new(
                block(height, 0.0, 0.0, 0.0),
                tuned(|v| v.ledge = Some(Ledge { highest: 0.5, ..ledge })),
                [0.6, 0.0, 0.0],
            );
            let mut clock = 0.0;
            while clock < 1.4 {
                let up = if clock < 0.7 { east().hold(Button::Jump) } else { east() };
                walk.tick(1.0 / rate, up);
                clock += 1.0 / rate;
            }
            let caught = walk.first(|k| matches!(k, EventKind::Caught { .. }));
            let hangs = walk.hero.mode == Mode::Ledge;
            // Lower ones it jumps onto, or its feet would hang in the floor; the highest is just as high as the hands come.
            let tuned = (130..=290).contains(&cm);
            assert_eq!((caught.is_some(), hangs), (tuned, tuned), "{height} m at {rate} Hz: {:?}", walk.events);
            if !tuned {
                continue;
            }
            let place = walk.hero.position;
            assert!((place.y - (height - 1.3)).abs() < 2e-4 && (place.x - 0.7).abs() < 2e-4, "{height} m: {place}");
            // The heading still leads in: it hangs until that has been let go. Idle is idle.
            walk.go(1.0 / rate, 0.5, east());
            assert_eq!(walk.hero.position, place);
            walk.go(1.0 / rate, 0.5, Intent::default());
            assert_eq!(walk.hero.position, place);
            walk.events.clear();
            walk.go(1.0 / rate, 1.5, east());
            let begun = walk.first(pulled_up).expect("it pulls up").time;
            let done = walk.first(|k| *k == EventKind::LedgeLeft { reason: HoldEnd::Done }).expect("it is up");
            assert!((done.time - begun - f64::from(ledge.pull_up)).abs() < 2e-5, "{rate} Hz: {}", done.time - begun);
            assert!(
                (done.place.y - height).abs() < 2e-3 && walk.hero.mode == Mode::Ground,
                "{rate} Hz: {}",
                done.place
            );
        }
    }
}

#[test]
fn along_a_ledge_it_goes_round_outside_and_inside_corners_alike_at_every_rate() {
    let pillar = World::new().floor(20.0, -9.0).block([-1.0, -9.0, -1.0], [1.0, 1.5, 1.0]);
    // A courtyard: four blocks round a hole of 4 m.
    let sides = [[-9.0, -9.0, -2.0, 9.0], [2.0, -9.0, 9.0, 9.0], [-2.0, -9.0, 2.0, -2.0], [-2.0, 2.0, 2.0, 9.0]];
    let yard = sides.iter().fold(World::new().floor(20.0, -9.0), |w, s| w.block([s[0], -9.0, s[1]], [s[2], 1.5, s[3]]));
    let radius = f64::from(Tuning::walker().shape().radius);
    let round = std::f64::consts::TAU * radius;
    for (world, start, way) in [(pillar, [-1.4, 0.2, 0.3], 8.0 + round), (yard, [1.6, 0.2, 0.3], 16.0 - 8.0 * radius)] {
        let mut ends = Vec::new();
        for rate in SIX_RATES {
            let mut walk = hanging(world.clone(), start, Vec3::X, rate);
            let from = walk.hero.position;
            let values = walk.tuning.values().ledge.expect("ledges");
            // Once round at a speed: it gains and loses it at the same rate, so a start and a stop cost the time of one.
            let lasts = way / f64::from(values.aside);
            for turn in [1.0, -1.0f32] {
                let stick = |x: f32| Intent::new(Heading::Surface(Vec2::new(x, 0.0)));
                let end = walk.hero.clock + lasts;
                while walk.hero.clock < end - 1e-9 {
                    walk.tick((1.0 / rate).min(end - walk.hero.clock), stick(turn));
                }
                walk.go(1.0 / rate, 1.0, stick(0.0));
                assert!(walk.hero.mode == Mode::Ledge, "{rate} Hz: {:?}", walk.events);
                let off = walk.hero.position.distance(from);
                assert!(off < 0.01, "{way:.2} m at {rate} Hz: {off} off, {}", walk.hero.position);
                ends.push(walk.hero.position);
            }
        }
        let apart = ends.iter().map(|e| e.distance(ends[0])).fold(0.0, f64::max);
        println!("round {way:.3} m: {:.3} mm apart", apart * 1e3);
        assert!(apart < 0.005);
    }
}

#[test]
fn along_a_ledge_what_leans_in_its_way_stops_it_and_it_sinks_into_nothing() {
    // A boulder's flank below the ledge, square to it and at an angle that would lead it off the wall.
    let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
    for (rate, skew) in SIX_RATES.into_iter().flat_map(|rate| [(rate, 0.0), (rate, 0.5), (rate, -0.5)]) {
        let flank = World::new().quad(
            p(-3.0, -1.0, -1.0 + 4.0 * skew),
            p(1.0, -1.0, -1.0),
            p(1.0, 1.0, -3.0),
            p(-3.0, 1.0, -3.0 + 4.0 * skew),
        );
        let tower = World::new().floor(20.0, -9.0).block([1.0, -9.0, -9.0], [4.0, 1.5, 9.0]);
        let mut walk = hanging(tower.and(flank), [0.65, 0.2, 0.0], Vec3::X, rate);
        let left = Intent::new(Heading::World(Vec3::new(0.2, 0.0, -0.9)));
        walk.go(1.0 / rate, 6.0, left);
        let before = walk.hero.position;
        assert!(before.z < -0.5, "{rate} Hz: it has come to it, at {before}");
        walk.go(1.0 / rate, 10.0, left);
        assert!((walk.hero.position - before).length() < 1e-6, "{rate} Hz: {}", walk.hero.position - before);
        assert!(walk.hero.mode == Mode::Ledge && walk.hero.velocity == DVec3::ZERO, "{rate} Hz: {:?}", walk.hero.mode);
        let pushed = walk.events.iter().find(|e| matches!(e.kind, EventKind::PushedOut { .. }));
        assert!(pushed.is_none(), "{rate} Hz, {skew}: {pushed:?} {before}");
    }
}

#[test]
fn off_a_ledge_it_drops_jumps_away_or_up_and_stops_where_it_ends() {
    for rate in SIX_RATES {
        let tower = || World::new().floor(20.0, -9.0).block([1.0, -9.0, -1.0], [4.0, 1.5, 1.0]);
        let start = [0.65, 0.2, 0.0];
        let reason = |walk: &Walk| {
            walk.events
                .iter()
                .rev()
                .find_map(|e| if let EventKind::LedgeLeft { reason } = e.kind { Some(reason) } else { None })
        };
        // Dropped: and not caught again at once, though the heading leads in.
        let mut walk = hanging(tower(), start, Vec3::X, rate);
        walk.go(1.0 / rate, 0.2, east().hold(Button::Grab));
        assert_eq!(
            (walk.hero.mode, walk.hero.phase, reason(&walk)),
            (Mode::Air, Phase::LetGo, Some(HoldEnd::LetGo)),
            "{rate} Hz"
        );
        let mut walk = hanging(tower(), start, Vec3::X, rate);
        walk.go(1.0 / rate, 0.1, Intent::default().in_stance(Stance::Crouch));
        assert_eq!((walk.hero.mode, reason(&walk)), (Mode::Air, Some(HoldEnd::LetGo)), "{rate} Hz");
        // Away from it, at the tuned speed.
        let mut walk = hanging(tower(), start, Vec3::X, rate);
        walk.go(1.0 / rate, 0.1, Intent::toward(Vec3::NEG_X).hold(Button::Jump));
        assert!(
            walk.hero.velocity.x < -3.0 && reason(&walk) == Some(HoldEnd::Jumped),
            "{rate} Hz: {}",
            walk.hero.velocity
        );
        // The jump button without a heading pulls up.
        let mut walk = hanging(tower(), start, Vec3::X, rate);
        walk.go(1.0 / rate, 1.2, Intent::default().hold(Button::Jump));
        assert!(
            walk.hero.mode == Mode::Ground && (walk.hero.position.y - 1.5).abs() < 1e-3,
            "{rate} Hz: {:?}",
            walk.events
        );
        // A step in the ledge is its end: one hand's width before it.
        let step = tower().block([1.0, 1.4, 0.5], [4.0, 2.5, 1.0]);
        let mut walk = hanging(step, start, Vec3::X, rate);
        walk.go(1.0 / rate, 3.0, Intent::new(Heading::Surface(Vec2::X)));
        let place = walk.hero.position;
        assert!(walk.hero.mode == Mode::Ledge && walk.hero.velocity == DVec3::ZERO, "{rate} Hz: {:?}", walk.events);
        assert!((place.z - 0.35).abs() < 2e-3, "{rate} Hz: {place}");
    }
}

#[test]
fn on_what_moves_it_hangs_pulls_up_and_is_up_as_on_what_stands() {
    let block = || World::new().block([0.0, -3.0, -1.0], [2.0, 0.0, 1.0]).mesh();
    for (name, track) in carriers() {
        let mut ends = Vec::new();
        for rate in SIX_RATES {
            let floor = World::new().floor(30.0, -9.0);
            let scene = Scene::new().with(floor.mesh()).with_moving(7, block(), track.clone());
            let stick = |x: f32, y: f32| Intent::new(Heading::Surface(Vec2::new(x, y)));
            let mut hang = Ascent::new(scene, tuned(|_| {}), [-0.35, -1.3, 0.3]);
            hang.until(0.5, rate, stick(0.0, 1.0)).until(2.5, rate, stick(1.0, 0.0)).until(
                8.0,
                rate,
                Intent::default(),
            );
            assert_eq!(hang.hero.mode, Mode::Ledge, "{name}, {rate} Hz: {:?}", hang.events);
            let there = hang.hero.position;
            ends.push(there);
            hang.until(24.0, rate, Intent::default());
            let off = (hang.hero.position - there).length();
            assert!(off < 1e-5, "{name}, {rate} Hz: {off} m off after two rounds");
            // Up onto it while it moves.
            hang.until(24.9, rate, stick(0.0, 1.0)).until(32.0, rate, Intent::default());
            assert_eq!(hang.hero.mode, Mode::Ground, "{name}, {rate} Hz: {:?}", hang.events);
            assert_eq!(hang.hero.ground.body(), 7, "{name}, {rate} Hz");
            assert!(hang.hero.position.y.abs() < 1e-3, "{name}, {rate} Hz: {}", hang.hero.position);
        }
        let apart = ends.iter().map(|e| e.distance(ends[5])).fold(0.0, f64::max);
        println!("on {name}: {:.3} mm apart", apart * 1e3);
        assert!(apart < 0.005, "{name}: {ends:?}");
    }
}

#[test]
fn what_comes_in_its_way_ends_it_and_nothing_is_passed_through() {
    let mut blocked = 0;
    for seed in 0..240 {
        let mut dice = Dice(seed * 3 + 1);
        // A lid that comes down, or a wall that comes out of the block's top, while it is on its way up.
        let begins = dice.between(0.0, 0.5);
        let (from, by, size) = match dice.pick(2) {
            0 => (DVec3::new(1.0, 4.5, 0.0), DVec3::NEG_Y * 2.4, [2.0, 0.3, 2.0]),
            _ => (DVec3::new(4.0, 1.6, 0.0), DVec3::NEG_X * 2.4, [0.6, 2.0, 2.0]),
        };
        let [x, y, z] = size;
        let mover = World::new().block([-x, 0.0, -z], [x, y, z]);
        let keys = vec![Key::at(begins, from), Key::at(begins + dice.between(0.2, 1.5), from + by)];
        let track = Track::new(keys, Ending::Stay).expect("a track");
        let scene = Scene::new().with(block(1.5, 0.0, 0.0, 0.0).mesh()).with_moving(7, mover.mesh(), track.clone());
        let rate = SIX_RATES[dice.pick(6)];
        let tuning = tuned(|_| {});
        let mut walk = Ascent::new(scene, tuning, [0.0, 0.0, 0.0]);
        let shape = tuning.shape();
        for _ in 0..(3.0 * rate) as u32 {
            walk.until(walk.hero.clock + 1.0 / rate, rate, east());
            let crushed = walk.events.iter().any(|e| matches!(e.kind, EventKind::Crushed { .. }));
            let place = track.pose(walk.hero.clock).0;
            let there = mover.clone().mapped(|p| p + place).and(block(1.5, 0.0, 0.0, 0.0));
            let gap = there.clearance(&walk.hero, &tuning);
            assert!(crushed || gap > -f64::from(shape.skin()), "seed {seed}, {rate} Hz: {gap} {:?}", walk.hero.mode);
        }
        blocked += u32::from(walk.when(|k| *k == EventKind::LedgeLeft { reason: HoldEnd::Blocked }).is_some());
    }
    println!("{blocked} ways blocked");
    assert!(blocked > 20, "{blocked}");
}

#[test]
fn the_edge_of_a_lift_that_comes_down_is_got_up_onto_at_the_same_moment_at_every_rate() {
    let tuning = from_the_ground();
    let sinks = Track::new(vec![Key::at(0.0, [0.0; 3]), Key::at(4.0, [0.0, -3.0, 0.0])], Ending::Stay).unwrap();
    let lift = World::new().block([1.0, -3.0, -4.0], [6.0, 3.2, 4.0]).mesh();
    let scene = Scene::new().with(World::new().floor(20.0, 0.0).mesh()).with_moving(7, lift, sinks);
    let moments = SIX_RATES.map(|rate| {
        let mut ascent = Ascent::new(scene.clone(), tuning, [0.0, 0.0, 0.0]);
        ascent.until(4.0, rate, east());
        let up = ascent.events.iter().find(|event| matches!(event.kind, EventKind::PulledUp { .. }));
        up.unwrap_or_else(|| panic!("{rate} Hz: not up onto it")).time
    });
    for moment in moments {
        assert!((moment - moments[5]).abs() < 1e-6, "{moments:?}");
    }
}

#[test]
fn who_rises_from_a_crouch_pressed_to_a_wall_gets_up_onto_it_at_that_moment() {
    let tuning = tuned(|v| v.ground.step = 0.2);
    for (rate, rises) in SIX_RATES.into_iter().flat_map(|rate| [1.0371, 1.1, 1.2493].map(|rises| (rate, rises))) {
        let mut walk = Walk::new(block(1.0, 0.0, 0.0, 0.0), tuning, [0.0; 3]);
        let script = Script::new().head(0.0, 1.0, 0.0).at(0.0, Change::Stance(Stance::Crouch));
        walk.play(&script.at(rises, Change::Stance(Stance::Stand)), 1.0 / rate, 2.5);
        let stood =
            walk.first(|k| matches!(k, EventKind::StanceChanged { to: Stance::Stand, .. })).expect("stood").time;
        let up = walk.first(|k| matches!(k, EventKind::PulledUp { .. })).expect("up").time;
        assert!((stood - rises).abs() < 1e-6 && (up - stood).abs() < 1e-6, "{rate} Hz: {stood} s, up at {up} s");
    }
}
