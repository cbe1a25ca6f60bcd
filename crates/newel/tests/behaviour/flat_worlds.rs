//! Flat worlds: tiles and pixels, from the side and from above.

use crate::common::oracle::Dice;
use crate::common::{EVERYWHERE, SIX_RATES};
use newel::flat::{FrameOrder, Frames, Scale, Tile, Tiles, TilesError, toward};
use newel::glam::{DVec2, DVec3, Vec3};
use newel::{
    Button, Command, Effect, EventKind, Form, Hold, Intent, Mode, Patch, Scene, Terrain, TickError, Tuning,
    TuningValues, Ways, When, Zone, flat,
};

fn tuning(form: Form) -> Tuning {
    let mut values = TuningValues { ledge: None, climb: None, vault: None, ..*Tuning::walker().values() };
    values.size.form = form;
    Tuning::new(values).unwrap()
}

fn px() -> Scale {
    Scale::new(16.0).unwrap().y_down()
}

/// A level drawn with letters: `#` solid, `-` one-way, `/` and `\` slopes.
fn level(rows: &[&str]) -> Tiles {
    let tile = |x: usize, y: usize| match rows[y].as_bytes()[x] {
        b'#' => Tile::Solid,
        b'-' => Tile::OneWay,
        b'/' => Tile::Slope { left: 0.0, right: 1.0 },
        b'\\' => Tile::Slope { left: 1.0, right: 0.0 },
        _ => Tile::Empty,
    };
    Tiles::new(px(), rows[0].len(), rows.len(), tile).unwrap()
}

fn hero(tiles: &Tiles, tuning: &Tuning, x: f64, y: f64, rate: f64) -> flat::Runner {
    let mut hero = flat::Runner::spawn(tiles, tuning, px().at(x, y)).expect("a clear spot");
    hero.inner = hero.inner.with_rate(rate).unwrap();
    hero
}

fn go(hero: &mut flat::Runner, tiles: &Tiles, tuning: &Tuning, seconds: f64, intent: newel::Intent) -> Vec<EventKind> {
    let dt = hero.inner.clock.step();
    let mut events = Vec::new();
    for _ in 0..(seconds / dt).round() as usize {
        hero.advance(dt, tiles, tuning, |_| intent, |tick| events.extend(tick.events().iter().map(|e| e.kind)))
            .unwrap();
    }
    events.retain(|kind| !matches!(kind, EventKind::Footstep { .. }));
    events
}

#[test]
fn along_tiles_it_walks_as_along_one_floor_and_into_a_wall_to_the_pixel() {
    let tiles =
        level(&["                    #", "                    #", "                    #", "#####################"]);
    for form in [Form::Capsule, Form::Box] {
        let tuning = tuning(form);
        for rate in SIX_RATES {
            let mut hero = hero(&tiles, &tuning, 24.0, 48.0, rate);
            let mut events = go(&mut hero, &tiles, &tuning, 2.0, toward(1.0, 0.0));
            let speed = f64::from(tuning.values().ground.speed) * 16.0;
            assert!(
                (hero.velocity().x - speed).abs() < 1e-3 && hero.position().y == 48.0,
                "{rate} Hz: {}",
                hero.position()
            );
            events.extend(go(&mut hero, &tiles, &tuning, 4.0, toward(1.0, 0.0)));
            let wall = 320.0 - f64::from(tuning.shape().radius) * 16.0;
            assert!((hero.position().x - wall).abs() < 0.01, "{form:?}, {rate} Hz: {}", hero.position());
            assert!(events.iter().all(|e| matches!(e, EventKind::HitWall { .. })), "{events:?}");
            let rect = hero.rect(&tuning);
            assert!(
                (rect.max.y - 48.0).abs() < 1e-9
                    && (rect.size().y - f64::from(tuning.shape().height) * 16.0).abs() < 1e-3
            );
        }
    }
}

#[test]
fn up_slopes_over_them_and_down_again_on_the_ground_all_the_way() {
    let tiles = level(&[
        "                          ",
        "                          ",
        "         /##\\             ",
        "        /####\\            ",
        "       /######\\           ",
        "##########################",
    ]);
    for form in [Form::Capsule, Form::Box] {
        let tuning = Tuning::new(TuningValues {
            ground: newel::OnGround { steepest: 50.0, ..tuning(form).values().ground },
            ..*tuning(form).values()
        })
        .unwrap();
        let mut ends = Vec::new();
        for rate in SIX_RATES {
            let mut hero = hero(&tiles, &tuning, 24.0, 80.0, rate);
            let events = go(&mut hero, &tiles, &tuning, 5.0, toward(1.0, 0.0));
            assert!(events.is_empty(), "{form:?}, {rate} Hz: {events:?}");
            assert!(
                hero.position().x > 270.0 && (hero.position().y - 80.0).abs() < 1e-6,
                "{form:?}, {rate} Hz: {}",
                hero.position()
            );
            ends.push(hero.position().x);
        }
        let (low, high) = ends.iter().fold((f64::MAX, f64::MIN), |(a, b), x| (a.min(*x), b.max(*x)));
        println!("{form:?}: {:.5} px apart", high - low);
        assert!(high - low < 0.01, "{form:?}: {low} to {high} px");
    }
}

#[test]
fn through_one_way_tiles_from_below_and_down_again() {
    let tiles = level(&["      ", "      ", "      ", "  --  ", "      ", "######"]);
    let tuning = Tuning::new(TuningValues {
        jump: Some(newel::Jump { height: 2.5, ..tuning(Form::Box).values().jump.unwrap() }),
        ..*tuning(Form::Box).values()
    })
    .unwrap();
    for rate in SIX_RATES {
        let mut hero = hero(&tiles, &tuning, 48.0, 80.0, rate);
        go(&mut hero, &tiles, &tuning, 2.0, toward(0.0, 0.0).hold(Button::Jump));
        assert!(
            (hero.position().y - 48.0).abs() < 1e-3 && hero.inner.character.mode == Mode::Ground,
            "{rate} Hz: {}",
            hero.position()
        );
        go(&mut hero, &tiles, &tuning, 1.0, toward(0.0, 0.0).hold(Button::Drop));
        assert!((hero.position().y - 80.0).abs() < 1e-3, "{rate} Hz: {}", hero.position());
    }
}

#[test]
fn a_tile_that_is_taken_away_is_gone_and_one_put_there_is_there() {
    let mut tiles = level(&["   ", "   ", "   ", "###", "   ", "###"]);
    let tuning = tuning(Form::Box);
    let mut hero = hero(&tiles, &tuning, 24.0, 48.0, 60.0);
    go(&mut hero, &tiles, &tuning, 0.5, toward(0.0, 0.0));
    let (standing, print) = (hero.position(), tiles.stamp(When::tick(0, 0.1), EVERYWHERE));
    tiles.set(1, 3, Tile::Empty).unwrap();
    assert_ne!(tiles.stamp(When::tick(0, 0.1), EVERYWHERE), print);
    go(&mut hero, &tiles, &tuning, 1.0, toward(0.0, 0.0));
    assert!(standing.y == 48.0 && (hero.position().y - 80.0).abs() < 1e-3, "{}", hero.position());
    tiles.set(1, 3, Tile::Solid).unwrap();
    assert_eq!(tiles.stamp(When::tick(0, 0.1), EVERYWHERE), print);
    let steep = Tile::Slope { left: 0.0, right: 1.5 };
    assert_eq!(tiles.set(1, 3, steep), Err(TilesError::Slope { x: 1, y: 3, left: 0.0, right: 1.5 }));
    assert!(matches!(Tiles::new(px(), 0, 4, |_, _| Tile::Solid), Err(TilesError::Size { .. })));
    assert!(Scale::new(f64::NAN).is_err() && Scale::new(0.0).is_err());
}

fn random(dice: &mut Dice, scale: Scale, wide: usize, tall: usize) -> Tiles {
    let tile = |x: usize, y: usize| match dice.pick(12) {
        _ if x == 0 || y == 0 || x == wide - 1 || y == tall - 1 => Tile::Solid,
        0 | 1 => Tile::Solid,
        2 => Tile::OneWay,
        3 => Tile::Slope { left: dice.unit() as f32, right: 1.0 },
        4 => Tile::Slope { left: 1.0, right: 0.0 },
        _ => Tile::Empty,
    };
    Tiles::new(scale, wide, tall, tile).unwrap()
}

/// How deep a box of the picture is in what is solid, metres, in double precision; the deepest point of its outline, sampled.
fn deepest(tiles: &Tiles, feet: DVec2, shape: &newel::Shape) -> f64 {
    let (half, tall) = (f64::from(shape.radius), f64::from(shape.height));
    let mut worst = 0.0f64;
    // Its corners are rounded by two skins.
    let inset = 2.0 * f64::from(shape.skin());
    for i in 0..=40 {
        let part = f64::from(i) / 40.0;
        let (half_part, tall_part) = (inset / (2.0 * half), inset / tall);
        let (across, up) = (half_part + part * (1.0 - 2.0 * half_part), tall_part + part * (1.0 - 2.0 * tall_part));
        for p in [
            DVec2::new(-half + 2.0 * half * across, 0.0),
            DVec2::new(-half + 2.0 * half * across, tall),
            DVec2::new(-half, tall * up),
            DVec2::new(half, tall * up),
        ] {
            let at = feet + p;
            let cell = at.floor();
            let y = -1 - cell.y as i64;
            let (Ok(x), Ok(y)) = (usize::try_from(cell.x as i64), usize::try_from(y)) else { continue };
            let (u, v) = (at.x - cell.x, at.y - cell.y);
            let top = match tiles.tile(x, y) {
                Tile::Solid => 1.0,
                Tile::Slope { left, right } => f64::from(left) + f64::from(right - left) * u,
                _ => continue,
            };
            worst = worst.max((top - v).min(u).min(1.0 - u).min(v));
        }
    }
    worst
}

#[test]
fn in_random_levels_a_box_is_never_in_a_tile_and_rest_is_rest() {
    let (tuning, mut rested, mut ticks) = (tuning(Form::Box), 0, 0);
    let skin = f64::from(tuning.shape().skin());
    for seed in 0..250 {
        let mut dice = Dice(seed);
        let tiles = random(&mut dice, px(), 24, 16);
        let rate = SIX_RATES[dice.pick(5)];
        let spot = px().at(dice.between(30.0, 350.0), dice.between(60.0, 230.0));
        let Ok(mut hero) = flat::Runner::spawn(&tiles, &tuning, spot) else { continue };
        hero.inner = hero.inner.with_rate(rate).unwrap();
        for _ in 0..25 {
            let intent = toward(dice.between(-1.0, 1.0) as f32, 0.0);
            let intent = if dice.unit() < 0.4 { intent.hold(Button::Jump) } else { intent };
            let intent = if dice.unit() < 0.2 { intent.hold(Button::Drop) } else { intent };
            for _ in 0..(0.3 * rate) as usize {
                let events = go(&mut hero, &tiles, &tuning, 1.0 / rate, intent);
                let lost = |e: &EventKind| {
                    matches!(e, EventKind::Stuck | EventKind::TimeDropped { .. } | EventKind::PushedOut { .. })
                };
                assert!(!events.iter().any(lost), "seed {seed}: {events:?}");
                let me = hero.inner.character.position;
                let deep = deepest(&tiles, DVec2::new(me.x, me.y), &tuning.shape_in(hero.inner.character.stance));
                assert!(deep < skin && me.z == 0.0, "seed {seed} at {rate} Hz: {deep} m deep at {me}");
                ticks += 1;
            }
        }
        go(&mut hero, &tiles, &tuning, 2.0, toward(0.0, 0.0));
        let before = *hero.inner.character.state();
        go(&mut hero, &tiles, &tuning, 2.0, toward(0.0, 0.0));
        if before.velocity == DVec3::ZERO {
            rested += 1;
            assert_eq!(hero.inner.character.position, before.position, "seed {seed}");
        }
    }
    println!("{ticks} ticks, {rested} came to rest");
    assert!(ticks > 10_000 && rested > 20, "{ticks} {rested}");
}

#[test]
fn a_ray_meets_the_first_facet_that_a_gather_has() {
    for seed in 0..40 {
        let mut dice = Dice(seed);
        let scale = if seed % 2 == 0 { px() } else { px().top_view() };
        let tiles = random(&mut dice, scale, 12, 9);
        let place = |p: DVec2| scale.world(p * 16.0);
        let patch = Patch::of(
            &tiles,
            When::tick(0, 0.1),
            place(DVec2::new(-1.0, 10.0)) - 1.0,
            place(DVec2::new(13.0, -1.0)) + 1.0,
        );
        for _ in 0..200 {
            let (x, y) = (dice.between(0.5, 11.5), dice.between(0.5, 8.5));
            if tiles.tile(x as usize, y as usize) != Tile::Empty {
                continue;
            }
            let angle = dice.between(0.0, std::f64::consts::TAU);
            let along = scale.world(DVec2::new(angle.cos(), angle.sin()) * 16.0).as_vec3();
            let from = place(DVec2::new(x, y));
            let hit = tiles.cast(When::tick(0, 0.1), from, along, 50.0);
            // One by one, and those that are passed from below not at all.
            let met = patch.facets().iter().filter(|f| !f.one_way).filter_map(|f| {
                let local = (from - patch.origin()).as_vec3();
                let t = -f.height_of(local) / f.normal.dot(along);
                let at = local + along * t;
                let inside = [(f.a, f.b), (f.b, f.c), (f.c, f.a)]
                    .iter()
                    .all(|(p, q)| (*q - *p).cross(at - *p).dot(f.normal) >= -1e-4);
                (t > 0.0 && inside).then_some(t)
            });
            let nearest = met.fold(f32::INFINITY, f32::min);
            let found = hit.map_or(f32::INFINITY, |hit| hit.distance as f32);
            assert!((found - nearest).abs() < 2e-3, "seed {seed}: {found} for {nearest} from {x}, {y} at {angle}");
        }
    }
}

#[test]
fn from_above_a_room_of_tiles_keeps_it_in() {
    let scale = px().top_view();
    let rows = ["##########", "#   #    #", "#   #    #", "#        #", "##########"];
    let solid = |x: usize, y: usize| if rows[y].as_bytes()[x] == b'#' { Tile::Solid } else { Tile::Empty };
    let tiles = Tiles::new(scale, 10, 5, solid).unwrap();
    let tuning = Tuning::top_view();
    for rate in SIX_RATES {
        let mut hero = flat::Runner::spawn(&tiles, &tuning, scale.at(24.0, 24.0)).unwrap();
        hero.inner = hero.inner.with_rate(rate).unwrap();
        let radius = f64::from(tuning.shape().radius) * 16.0;
        // Right into the inner wall, down along it, and on to the right.
        go(&mut hero, &tiles, &tuning, 1.5, toward(1.0, 0.0));
        assert!((hero.position() - DVec2::new(64.0 - radius, 24.0)).length() < 0.1, "{rate} Hz: {}", hero.position());
        go(&mut hero, &tiles, &tuning, 1.5, toward(0.0, -1.0));
        assert!(
            (hero.position() - DVec2::new(64.0 - radius, 64.0 - radius)).length() < 0.1,
            "{rate} Hz: {}",
            hero.position()
        );
        go(&mut hero, &tiles, &tuning, 2.5, toward(1.0, 0.0));
        assert!((hero.position().x - (144.0 - radius)).abs() < 0.1, "{rate} Hz: {}", hero.position());
    }
}

fn boxed(change: impl Fn(&mut TuningValues)) -> Tuning {
    let mut values = *tuning(Form::Box).values();
    change(&mut values);
    Tuning::new(values).unwrap()
}

const CORRIDOR: [&str; 4] =
    ["####################", "#                  #", "#                  #", "####################"];

#[test]
fn a_box_upside_down_is_the_same_box() {
    let tiles = level(&CORRIDOR);
    for (height, radius) in [(1.25, 0.3), (1.6, 0.3), (1.95, 0.4), (0.8, 0.9), (0.5, 0.9)] {
        let tuning = boxed(|v| (v.size.height, v.size.radius, v.ground.step) = (height, radius, 0.2));
        for rate in SIX_RATES {
            let mut hero = hero(&tiles, &tuning, 64.0, 48.0, rate);
            hero.command(Command::FlipGravity);
            let events = go(&mut hero, &tiles, &tuning, 2.0, toward(1.0, 0.0));
            assert!(!events.contains(&EventKind::Stuck), "{height} m, {rate} Hz: {events:?}");
            let (state, rect) = (hero.inner.character.state(), hero.rect(&tuning));
            assert!(state.mode == Mode::Ground && state.axis == state.up, "{height} m, {rate} Hz: {:?}", state.mode);
            assert!((rect.min.y - 16.0).abs() < 0.01, "{height} m, {rate} Hz: head down on the ceiling: {rect:?}");
            assert!((rect.size().y - f64::from(height) * 16.0).abs() < 1e-3 && rect.max.y < 48.0, "{rect:?}");
            assert!(hero.position().x > 150.0, "{height} m, {rate} Hz: right is right: {}", hero.position());
        }
    }
    // And in a shaft no wider than itself it falls up.
    let shaft = level(&["# #", "# #", "# #", "# #", "# #", "# #", "###"]);
    let tuning = boxed(|v| (v.size.height, v.size.radius) = (1.6, 0.47));
    let mut hero = hero(&shaft, &tuning, 24.0, 96.0, 60.0);
    hero.command(Command::FlipGravity);
    go(&mut hero, &shaft, &tuning, 0.5, toward(0.0, 0.0));
    assert!(hero.position().y < 60.0 && hero.inner.character.mode == Mode::Air, "{}", hero.position());
}

#[test]
fn of_the_stick_the_part_counts_that_can_act() {
    let tiles = level(&CORRIDOR);
    for (ways, rate) in [(Ways::Any, 60.0), (Ways::Four, 30.0), (Ways::Eight, 144.0)] {
        let tuning = boxed(|v| v.stick.ways = ways);
        let reached = |intent: Intent| {
            let mut hero = hero(&tiles, &tuning, 64.0, 48.0, rate);
            go(&mut hero, &tiles, &tuning, 1.0, intent);
            hero.position().x
        };
        let plain = reached(toward(1.0, 0.0));
        assert!(plain > 120.0, "{ways:?}: {plain}");
        for up in [1.0, 0.5, -1.0] {
            assert_eq!(reached(toward(1.0, up)), plain, "{ways:?}, {up}");
        }
        assert_eq!(reached(toward(0.0, 1.0)), 64.0);
        // A wall that is the ground: up the screen is up the wall.
        let mut hero = hero(&tiles, &tuning, 256.0, 48.0, rate);
        hero.command(Command::Gravity { pull: Vec3::X });
        go(&mut hero, &tiles, &tuning, 3.0, toward(0.0, 0.0));
        let from = hero.position().y;
        go(&mut hero, &tiles, &tuning, 0.05, toward(0.3, 1.0));
        assert!(hero.inner.character.mode == Mode::Ground && hero.position().y < from - 0.5, "{ways:?}: {from}");
    }
}

#[test]
fn a_heading_into_a_ladder_climbs_it_in_a_side_view_too() {
    let climber =
        Tuning::new(TuningValues { climb: Some(newel::Climb::default()), ..*tuning(Form::Capsule).values() }).unwrap();
    let floor = newel::Mesh::cuboid(DVec3::new(-9.0, -1.0, -3.0), DVec3::new(9.0, 0.0, 3.0)).unwrap();
    let shelf = newel::Mesh::cuboid(DVec3::new(1.7, 2.0, -3.0), DVec3::new(9.0, 3.0, 3.0)).unwrap();
    let (low, high) = (DVec3::new(0.8, 0.0, -0.4), DVec3::new(1.6, 3.0, 0.4));
    let ladder = Zone::new(1, low, high, Effect::Hold { hold: Hold::Ladder, out: Vec3::NEG_X });
    let scene = Scene::new().with(floor).with(shelf).with_zone(ladder);
    for (right, up, climbs) in [(1.0, 0.0, true), (1.0, 1.0, true), (0.0, 1.0, false)] {
        let mut hero = flat::Runner::spawn(&scene, &climber, Scale::new(16.0).unwrap().at(-16.0, 0.0)).unwrap();
        for _ in 0..180 {
            hero.advance(1.0 / 60.0, &scene, &climber, |_| toward(right, up), |_| {}).unwrap();
        }
        assert_eq!(hero.position().y > 47.9 && hero.position().x > 25.0, climbs, "{right}, {up}: {}", hero.position());
    }
}

#[test]
fn its_plane_is_changed_and_left_by_a_command() {
    let floor = newel::Mesh::cuboid(DVec3::new(-20.0, -1.0, -20.0), DVec3::new(20.0, 0.0, 20.0)).unwrap();
    let px = Scale::new(16.0).unwrap();
    let (capsule, boxed) = (tuning(Form::Capsule), tuning(Form::Box));
    let mut hero = flat::Runner::spawn(&floor, &capsule, px.at(0.0, 0.0)).unwrap();
    let run = |hero: &mut flat::Runner, tuning: &Tuning, seconds: f64, intent: Intent| {
        let mut result = Ok(());
        for _ in 0..(seconds * 60.0) as usize {
            result = result.and(hero.advance(1.0 / 60.0, &floor, tuning, |_| intent, |_| {}));
        }
        result.map(|()| hero.inner.character.position)
    };
    let out = Intent::toward(Vec3::new(1.0, 0.0, 1.0));
    let along = run(&mut hero, &capsule, 1.0, out).unwrap();
    assert!(along.z == 0.0 && along.x > 2.0, "{along}");
    hero.command(Command::Plane { normal: Vec3::X });
    let across = run(&mut hero, &capsule, 1.0, out).unwrap();
    assert!((across.x - along.x).abs() < 1e-12 && across.z > 2.0, "{along} {across}");
    hero.command(Command::Plane { normal: Vec3::ZERO });
    let free = run(&mut hero, &capsule, 1.0, out).unwrap();
    assert!(free.x > along.x + 2.0 && free.z > across.z + 2.0, "{free}");

    // A box needs a plane, and none askew: what is refused changes nothing.
    let mut hero = flat::Runner::spawn(&floor, &boxed, px.at(0.0, 0.0)).unwrap();
    let before = hero.inner.character.clone();
    for (normal, why) in
        [(Vec3::ZERO, TickError::NoPlane), (Vec3::ONE, TickError::PlaneAskew { normal: Vec3::ONE, up: Vec3::Y })]
    {
        hero.command(Command::Plane { normal });
        let refused = hero.advance(1.0 / 60.0, &floor, &boxed, |_| out, |_| {});
        assert_eq!(refused, Err(why));
        assert_eq!(hero.inner.character, before);
    }
    hero.command(Command::Plane { normal: Vec3::X });
    assert!(run(&mut hero, &boxed, 1.0, out).is_ok_and(|at| at.x == 0.0 && at.z > 2.0));
}

#[test]
fn a_spot_says_how_it_begins() {
    let tiles = level(&CORRIDOR);
    let tuning =
        Tuning::new(TuningValues { crouch: Some(newel::LowStance::crouch()), ..*tuning(Form::Box).values() }).unwrap();
    let spot = px().at(64.0, 16.0).pulled([0.0, -1.0]).facing([-1.0, 0.0]).in_stance(newel::Stance::Crouch);
    let hero = flat::Runner::spawn(&tiles, &tuning, spot).unwrap();
    let state = &hero.inner.character;
    assert!(state.mode == Mode::Ground && state.stance == newel::Stance::Crouch && !hero.looks_right());
    let rect = hero.rect(&tuning);
    assert!(rect.min.y == 16.0 && (rect.size().y - 1.2 * 16.0).abs() < 1e-3, "head down, crouched: {rect:?}");
}

#[test]
fn a_jump_stated_per_frame_has_the_same_heights_frame_by_frame() {
    let floor = newel::Mesh::cuboid(DVec3::new(-99.0, -9.0, -9.0), DVec3::new(99.0, 0.0, 9.0)).unwrap();
    let jumps = [(1.0, 60.0, 15.0, 1.0), (16.0, 60.0, 4.0, 0.25), (32.0, 30.0, 9.5, 1.1), (100.0, 50.0, 3.0, 0.15)];
    for (pixels, rate, speed, gravity) in jumps {
        for order in [FrameOrder::VelocityFirst, FrameOrder::PositionFirst] {
            let px = Scale::new(pixels).unwrap();
            let mut values = *tuning(Form::Box).values();
            (values.size.height, values.size.radius) = ((30.0 / pixels) as f32, (6.0 / pixels) as f32);
            values.ground.step = values.ground.step.min(0.5 * values.size.height);
            Frames::new(px, rate, order).unwrap().set_jump(&mut values, speed, gravity).unwrap();
            let tuning = Tuning::new(values).unwrap();
            let mut hero = flat::Runner::spawn(&floor, &tuning, px.at(0.0, 0.0)).unwrap();
            hero.inner = hero.inner.with_rate(rate).unwrap();
            let (mut height, mut velocity) = (0.0, speed);
            for frame in 0..200 {
                if order == FrameOrder::VelocityFirst {
                    velocity -= gravity;
                    height += velocity;
                } else {
                    height += velocity;
                    velocity -= gravity;
                }
                if height <= 0.0 {
                    assert!(frame > 10, "{frame} frames");
                    break;
                }
                let held = toward(0.0, 0.0).hold(Button::Jump);
                hero.advance(1.0 / rate, &floor, &tuning, |_| held, |_| {}).unwrap();
                let off = hero.position().y - height;
                assert!(off.abs() < 0.01, "{pixels} px, {order:?}, frame {frame}: {} for {height}", hero.position().y);
            }
        }
    }
    let frames = Frames::new(px(), 60.0, FrameOrder::VelocityFirst).unwrap();
    let mut values = TuningValues::default();
    for (speed, gravity) in [(0.1, 0.25), (4.0, 0.0), (f64::NAN, 0.2), (4.0, f64::NAN)] {
        assert!(frames.set_jump(&mut values, speed, gravity).is_err(), "{speed}, {gravity}");
        assert_eq!(values, TuningValues::default());
    }
    assert!(Frames::new(px(), 0.0, FrameOrder::VelocityFirst).is_err());
}

#[test]
fn a_step_onto_a_grid_is_all_or_nothing_and_says_which() {
    let room = |x, y| if x == 0 || x == 4 || y == 0 || y == 3 { Tile::Solid } else { Tile::Empty };
    for scale in [px(), px().top_view()] {
        let tiles = Tiles::new(scale, 5, 4, room).unwrap();
        let tuning = boxed(|v| (v.size.height, v.size.radius) = (0.8, 0.3));
        let mut hero =
            flat::Runner::spawn(&tiles, &tuning, scale.at(24.0, if scale.is_top_view() { 40.0 } else { 48.0 }))
                .unwrap();
        let mut told = Vec::new();
        for press in 0..6 {
            hero.command(Command::GridStep { by: scale.world(DVec2::new(10.0, 0.0)) });
            let note = |tick: &newel::Ticked<'_>| told.extend(tick.events().iter().map(|e| e.kind));
            hero.advance(1.0 / 60.0, &tiles, &tuning, |_| toward(0.0, 0.0), note).unwrap();
            let expected = 24.0 + 10.0 * f64::from((press + 1).min(3));
            assert!((hero.position().x - expected).abs() < 1e-6, "press {press}: {}", hero.position());
        }
        let taken = |kind: &EventKind| matches!(kind, EventKind::GridStep { taken: true });
        assert_eq!((told.len(), told.iter().filter(|k| taken(k)).count()), (6, 3), "{told:?}");
    }
}
