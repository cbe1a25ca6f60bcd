//! Crowds: nobody is ever in somebody, whoever moves first; and many threads make the same bits as one.

use crate::common::World;
use crate::common::oracle::{Dice, segment_to_segment};
use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Command, Crowd, CrowdError, Event, EventKind, Form, Heads, Intent, Launch, Layers, Member, Mesh,
    Mode, Spawn, Tuning, Who,
};

fn floor() -> Mesh {
    World::new().floor(60.0, 0.0).mesh()
}

fn member(level: &Mesh, tuning: &Tuning, at: DVec3) -> Member {
    Member::new(Character::spawn(level, tuning, at).expect("a clear place"))
}

/// The gap between two upright ones, in double precision.
fn gap(a: &Member, b: &Member, tuning: &Tuning) -> f64 {
    let shape = tuning.shape();
    let core = |m: &Member| {
        let low = m.character.position + DVec3::Y * f64::from(shape.radius);
        (low, low + DVec3::Y * f64::from(shape.height - 2.0 * shape.radius))
    };
    let ((p, q), (r, s)) = (core(a), core(b));
    segment_to_segment(p, q, r, s) - 2.0 * f64::from(shape.radius)
}

/// The least gap between two of whom neither is told crushed: lifted on a shoulder past a neighbour, one may be pinched between the two.
fn least_gap_but(all: &[Member], tuning: &Tuning, crushed: impl Fn(usize) -> bool) -> f64 {
    let free = |(i, j): &(usize, usize)| !crushed(*i) && !crushed(*j);
    let pairs = (0..all.len()).flat_map(|i| (0..i).map(move |j| (i, j))).filter(free);
    let near = pairs.filter(|(i, j)| (all[*i].character.position - all[*j].character.position).length() < 4.0);
    near.map(|(i, j)| gap(&all[i], &all[j], tuning)).fold(f64::INFINITY, f64::min)
}

/// Each in a direction of its own, now and then another; some run, some jump.
fn mill_about(all: &mut [Member], dice: &mut Dice, home: f64) {
    for one in all {
        if dice.unit() < 0.05 {
            let way = dice.direction() * DVec3::new(1.0, 0.0, 1.0) - one.character.position * (1.0 / home);
            let intent = Intent::toward(way.as_vec3().clamp_length_max(1.0));
            one.intent = if dice.unit() < 0.2 { intent.hold(Button::Jump) } else { intent };
        }
    }
}

#[test]
fn solid_ones_are_never_in_each_other_at_any_rate_or_speed() {
    let (level, tunings) = (floor(), [Tuning::brisk_hero()]);
    let skin = f64::from(tunings[0].shape().skin());
    for (seed, rate) in [15.0, 30.0, 60.0, 240.0].into_iter().enumerate() {
        let mut dice = Dice(seed as u64);
        let place = |i: usize| DVec3::new((i % 8) as f64 * 1.1 - 4.0, 0.0, (i / 8) as f64 * 1.1 - 4.0);
        let mut all: Vec<_> = (0..64).map(|i| member(&level, &tunings[0], place(i))).collect();
        let mut crowd = Crowd::new();
        let (mut least, mut pinched) = (f64::INFINITY, 0u32);
        for number in 0..(12.0 * rate) as u64 {
            mill_about(&mut all, &mut dice, 6.0);
            if dice.unit() < 2.0 / rate {
                let velocity = dice.direction() * DVec3::new(20.0, 0.0, 20.0) + DVec3::Y * 3.0;
                all[dice.pick(64)].commands.push(Command::Launch(Launch::at(velocity)));
            }
            crowd.step(&level, number, 1.0 / rate, &tunings, &mut all).unwrap();
            let crushed = |i: usize| {
                let events = &crowd.outcome(i).unwrap().events;
                events.iter().any(|e| matches!(e.kind, EventKind::Crushed { .. }))
            };
            pinched += (0..64).map(|i| u32::from(crushed(i))).sum::<u32>();
            least = least.min(least_gap_but(&all, &tunings[0], crushed));
            let stuck = |e: &newel::Event| matches!(e.kind, EventKind::Stuck | EventKind::TimeDropped { .. });
            for i in 0..64 {
                let found = crowd.outcome(i).unwrap().events.iter().find(|e| stuck(e)).copied();
                if found.is_some() {
                    println!("{rate} Hz, tick {number}: {i} {found:?}");
                }
            }
        }
        println!("{rate} Hz: least gap {:.3} mm, {pinched} told crushed", least * 1e3);
        assert!(
            least > -skin && f64::from(pinched) < 64.0 * 12.0 * rate * 1e-3,
            "{rate} Hz: {least} m, {pinched} told crushed"
        );
    }
}

#[test]
fn two_who_meet_meet_half_way_by_their_speeds_and_in_any_order() {
    let (level, tunings) = (floor(), [Tuning::walker()]);
    let radius = f64::from(tunings[0].shape().radius);
    for (slow, fast) in [(1.0, 1.0), (0.5, 1.0), (0.0, 1.0)] {
        for rate in [15.0, 60.0, 240.0] {
            let ends: Vec<[DVec3; 2]> = [false, true]
                .into_iter()
                .map(|swapped| {
                    let mut pair =
                        vec![member(&level, &tunings[0], DVec3::X * -3.0), member(&level, &tunings[0], DVec3::X * 3.0)];
                    (pair[0].intent, pair[1].intent) =
                        (Intent::toward(Vec3::X * slow), Intent::toward(Vec3::NEG_X * fast));
                    if swapped {
                        pair.reverse();
                    }
                    let mut crowd = Crowd::new();
                    for number in 0..(2.0 * rate) as u64 {
                        crowd.step(&level, number, 1.0 / rate, &tunings, &mut pair).unwrap();
                    }
                    if swapped {
                        pair.reverse();
                    }
                    [pair[0].character.position, pair[1].character.position]
                })
                .collect();
            assert_eq!(ends[0], ends[1], "the order makes no difference");
            let [a, b] = ends[0];
            assert!(((b - a).length() - 2.0 * radius).abs() < 0.03, "{rate} Hz: {a} {b}");
            if slow == 0.0 {
                assert!(a == DVec3::X * -3.0, "who stands still is not pushed");
            }
        }
    }
}

#[test]
fn soft_ones_part_by_their_weights_at_the_same_pace_at_every_rate() {
    let (level, tunings) = (floor(), [Tuning::walker()]);
    let play = |rate: f64| {
        let mut pair = vec![member(&level, &tunings[0], DVec3::X * -0.1), member(&level, &tunings[0], DVec3::X * 0.1)];
        for one in &mut pair {
            (one.solid, one.soft) = (Layers::NONE, Layers::ALL);
        }
        pair[1].weight = 3.0;
        let mut crowd = Crowd::new();
        let mut after = Vec::new();
        for number in 0..rate as u64 {
            crowd.step(&level, number, 1.0 / rate, &tunings, &mut pair).unwrap();
            if (number + 1) % (rate as u64 / 5) == 0 {
                after.push([pair[0].character.position.x, pair[1].character.position.x]);
            }
        }
        after
    };
    let radius = f64::from(tunings[0].shape().radius);
    let exact = |t: f64| 2.0 * radius - (2.0 * radius - 0.2) * (-t / 0.1).exp();
    for rate in [15.0, 60.0, 240.0] {
        for (n, [a, b]) in play(rate).into_iter().enumerate() {
            let t = 0.2 * (n + 1) as f64;
            assert!((b - a - exact(t)).abs() < 1e-3, "{rate} Hz, {t} s: {} for {}", b - a, exact(t));
            assert!(((b - 0.1) * 3.0 + a + 0.1).abs() < 1e-3, "{rate} Hz: the heavy one moves a third as far");
        }
    }
}

#[test]
fn heads_carry_or_let_slip_as_tuned_and_ghosts_pass() {
    const GHOSTS: Layers = Layers::of(9);
    let (level, tunings) = (floor(), [Tuning::walker()]);
    let height = f64::from(tunings[0].shape().height);
    for heads in [Heads::Carry, Heads::SlipOff] {
        let mut pair =
            vec![member(&level, &tunings[0], DVec3::ZERO), member(&level, &tunings[0], DVec3::Y * (height + 0.3))];
        pair[0].heads = heads;
        let mut crowd = Crowd::new();
        for number in 0..240 {
            crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut pair).unwrap();
            assert!(gap(&pair[0], &pair[1], &tunings[0]) > -0.01, "tick {number}");
        }
        let above = pair[1].character.clone();
        if heads == Heads::Carry {
            assert!(above.mode == Mode::Ground && (above.position.y - height).abs() < 0.01, "{}", above.position);
        } else {
            assert!(above.mode == Mode::Ground && above.position.y < 0.01, "{}", above.position);
        }
    }
    let mut pair = vec![member(&level, &tunings[0], DVec3::X * -2.0), member(&level, &tunings[0], DVec3::ZERO)];
    pair[0].intent = Intent::toward(Vec3::X);
    pair[1].modifiers.who = Who { on: GHOSTS, ..Who::default() };
    pair[0].solid = Layers::ALL.without(GHOSTS);
    let mut crowd = Crowd::new();
    for number in 0..120 {
        crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut pair).unwrap();
    }
    assert!(pair[0].character.position.x > 4.0 && pair[1].character.position == DVec3::ZERO);
}

/// One on another's head, off its middle by `off`; boxes in a plane or capsules.
fn stack(level: &Mesh, tuning: &Tuning, off: f64) -> Vec<Member> {
    let boxed = tuning.shape().form == Form::Box;
    let plane = if boxed { Vec3::Z } else { Vec3::ZERO };
    let on_top = DVec3::new(off, f64::from(tuning.shape().height) + 0.05, 0.0);
    let place = |at: DVec3| Spawn::at(at).in_plane(plane);
    let mut pair: Vec<Member> = [DVec3::ZERO, on_top]
        .into_iter()
        .map(|at| Member::new(Character::spawn(level, tuning, place(at)).unwrap()))
        .collect();
    let mut crowd = Crowd::new();
    (0..30).for_each(|number| crowd.step(level, number, 1.0 / 60.0, std::slice::from_ref(tuning), &mut pair).unwrap());
    assert!(
        pair[1].character.mode == Mode::Ground && pair[1].character.position.y > 1.5,
        "{:?}",
        pair[1].character.state()
    );
    pair
}

#[test]
fn whoever_stands_on_a_head_rides_along_to_the_bit_over_stairs_too_and_takes_the_speed_when_it_jumps() {
    let level = World::new().floor(60.0, 0.0).stairs(4.0, 0.2, 0.4, 8, 3.0).mesh();
    for (form, off, rate) in
        [(Form::Capsule, 0.1, 15.0), (Form::Capsule, 0.3, 60.0), (Form::Box, 0.3, 30.0), (Form::Box, 0.1, 240.0)]
    {
        let mut values = *Tuning::walker().values();
        values.size.form = form;
        let tunings = [Tuning::new(values).unwrap()];
        let mut pair = stack(&level, &tunings[0], off);
        let apart = pair[1].character.position - pair[0].character.position;
        let mut crowd = Crowd::new();
        pair[0].intent = Intent::toward(Vec3::X);
        for number in 0..(1.7 * rate) as u64 {
            crowd.step(&level, number, 1.0 / rate, &tunings, &mut pair).unwrap();
            let now = pair[1].character.position - pair[0].character.position;
            assert!((now - apart).length() < 1e-5, "{form:?} {rate} Hz, tick {number}: {now} for {apart}");
        }
        assert!(pair[0].character.position.y > 1.0, "up the stairs: {}", pair[0].character.position);
        // And off it, back on the flat.
        let mut pair = stack(&level, &tunings[0], off);
        pair[0].intent = Intent::toward(Vec3::X);
        let mut speed = None;
        for number in 0..(0.9 * rate) as u64 {
            let jumps = number >= (0.8 * rate) as u64;
            pair[1].intent = if jumps { Intent::default().hold(Button::Jump) } else { Intent::default() };
            crowd.step(&level, number, 1.0 / rate, &tunings, &mut pair).unwrap();
            let told = crowd.outcome(1).unwrap().events.iter().find(|e| matches!(e.kind, EventKind::Jumped { .. }));
            speed = speed.or(told.map(|event| event.velocity.x - pair[0].character.velocity.x));
        }
        assert!(speed.is_some_and(|off| off.abs() < 0.05), "{form:?} {rate} Hz: {speed:?}");
    }
}

#[test]
fn under_a_beam_whoever_carries_is_held_and_goes_on_once_the_other_is_off() {
    let level = World::new().floor(60.0, 0.0).block([2.0, 2.2, -9.0], [3.0, 9.0, 9.0]).mesh();
    for form in [Form::Capsule, Form::Box] {
        let mut values = *Tuning::walker().values();
        values.size.form = form;
        let tunings = [Tuning::new(values).unwrap()];
        let mut pair = stack(&level, &tunings[0], 0.1);
        let mut crowd = Crowd::new();
        pair[0].intent = Intent::toward(Vec3::X);
        for number in 0..120 {
            crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut pair).unwrap();
            let apart = (pair[1].character.position - pair[0].character.position).abs();
            let clear = if form == Form::Box {
                (apart.x - 0.6).max(apart.y - 1.8)
            } else {
                gap(&pair[0], &pair[1], &tunings[0])
            };
            assert!(clear > -1e-4, "{form:?}, tick {number}: {clear}");
        }
        pair[1].intent = Intent::toward(Vec3::NEG_X);
        for number in 120..300 {
            crowd.step(&level, number, 1.0 / 60.0, &tunings, &mut pair).unwrap();
        }
        assert!(pair[0].character.position.x > 5.0, "{form:?}: {}", pair[0].character.position);
    }
}

#[test]
fn boxes_in_a_side_view_are_never_in_each_other() {
    let mut values = *Tuning::brisk_hero().values();
    values.size.form = Form::Box;
    let (level, tunings) = (floor(), [Tuning::new(values).unwrap()]);
    let size = [2.0 * f64::from(tunings[0].shape().radius), f64::from(tunings[0].shape().height)];
    let skin = f64::from(tunings[0].shape().skin());
    for (seed, rate) in [15.0, 60.0, 240.0].into_iter().enumerate() {
        let mut dice = Dice(42 + seed as u64);
        let place = |i: usize| Spawn::at(DVec3::X * (0.9 * i as f64 - 6.0)).in_plane(Vec3::Z);
        let mut all: Vec<Member> =
            (0..14).map(|i| Member::new(Character::spawn(&level, &tunings[0], place(i)).unwrap())).collect();
        let (mut crowd, mut deepest, mut crushed) = (Crowd::new(), 0.0f64, 0);
        for number in 0..(20.0 * rate) as u64 {
            mill_about(&mut all, &mut dice, 7.0);
            crowd.step(&level, number, 1.0 / rate, &tunings, &mut all).unwrap();
            let is_pressed = |e: &Event| matches!(e.kind, EventKind::Crushed { .. } | EventKind::PushedOut { .. });
            let told = |n| crowd.outcome(n).unwrap().events.iter().any(is_pressed);
            // Who jumps with another on its head may press that one into a third, and is told so.
            let is_crushed = (0..14).any(told);
            crushed += u32::from(is_crushed);
            for (i, j) in (0..14).flat_map(|i| (0..i).map(move |j| (i, j))).filter(|_| !is_crushed) {
                let apart = (all[i].character.position - all[j].character.position).abs();
                deepest = deepest.max((size[0] - apart.x).min(size[1] - apart.y));
            }
        }
        println!("{rate} Hz: {:.3} mm in each other, {crushed} ticks in which one is crushed", deepest * 1e3);
        // What is rounded of their corners may be.
        assert!(deepest < skin && crushed < 10, "{rate} Hz: {deepest} m, {crushed}");
    }
}

#[test]
fn any_number_of_threads_and_any_order_make_the_same_bits() {
    let (level, tunings) = (floor(), [Tuning::walker(), Tuning::brisk_hero()]);
    let play = |order: &dyn Fn(usize) -> usize| {
        let mut dice = Dice(3);
        let places: Vec<DVec3> =
            (0..300).map(|i| DVec3::new((i % 20) as f64 * 0.9 - 9.0, 0.0, (i / 20) as f64 * 0.9 - 6.0)).collect();
        let mut all: Vec<_> = (0..300).map(|i| member(&level, &tunings[i % 2], places[i])).collect();
        for (i, one) in all.iter_mut().enumerate() {
            (one.tuning, one.modifiers.who.id) = (i % 2, i as u64 + 1);
            if i % 5 == 0 {
                (one.soft, one.solid) = (Layers::ALL, Layers::NONE);
            }
        }
        let mut crowd = Crowd::new();
        for number in 0..120 {
            mill_about(&mut all, &mut dice, 12.0);
            // Moved in another order, and put back.
            let mut shuffled: Vec<_> = (0..300).map(|i| all[order(i)].clone()).collect();
            crowd.step(&level, number, 1.0 / 30.0, &tunings, &mut shuffled).unwrap();
            (0..300).for_each(|i| all[order(i)] = shuffled[i].clone());
        }
        all.iter().fold(0u64, |sum, one| sum.rotate_left(7) ^ one.hash())
    };
    let plain = play(&|i| i);
    assert_eq!(play(&|i| 299 - i), plain);
    assert_eq!(play(&|i| (i * 7) % 300), plain);
    // With the feature `parallel` the pool has as many threads as the machine; this is the hash that one thread makes.
    assert_eq!(plain, 12_199_511_098_194_955_112);
}

#[test]
fn one_whose_tick_is_refused_leaves_everybody_where_they_were() {
    let (level, tunings) = (floor(), [Tuning::walker()]);
    let mut pair = vec![member(&level, &tunings[0], DVec3::ZERO), member(&level, &tunings[0], DVec3::X * 3.0)];
    pair.iter_mut().for_each(|one| one.intent = Intent::toward(Vec3::Z));
    let mut crowd = Crowd::new();
    pair[1].commands.push(Command::Displace { by: DVec3::NAN });
    let refused = crowd.step(&level, 0, 0.1, &tunings, &mut pair);
    assert!(matches!(refused, Err(CrowdError::Member { member: 1, .. })), "{refused:?}");
    assert_eq!(pair[0].character.position, DVec3::ZERO);
    pair[1].commands.clear();
    pair[1].tuning = 4;
    let refused = crowd.step(&level, 0, 0.1, &tunings, &mut pair);
    assert_eq!(refused, Err(CrowdError::NoTuning { member: 1, tuning: 4, tunings: 1 }));
    pair[1].tuning = 0;
    pair[0].weight = f32::NAN;
    assert!(matches!(crowd.step(&level, 0, 0.1, &tunings, &mut pair), Err(CrowdError::Weight { member: 0, .. })));
    pair[0].weight = 1.0;
    crowd.step(&level, 0, 0.1, &tunings, &mut pair).unwrap();
    assert!(pair[0].character.position.z > 0.0);
}
