//! Every kind of piece: its geometry, and the cues of a player at it.

use super::*;

pub fn flat(it: &mut Gauntlet, dice: &mut Dice) {
    let aside = dice.between(-0.15, 0.15);
    let (x, long) = (it.x, dice.between(2.0, 4.0));
    it.floor(long);
    it.cue([When::At(x)], [Do::Head(1.0, aside)]);
    it.cue([When::At(x + long)], [Do::Head(1.0, -0.5 * aside)]);
    it.floor(1.5);
    let x = it.x;
    it.cue([When::At(x)], [Do::Head(1.0, 0.0)]);
}

pub fn stairs_up(it: &mut Gauntlet, dice: &mut Dice) {
    let most = f64::from(it.tuning.values().ground.step) - 0.03;
    let (rise, tread, count) = (dice.between(0.1, most.min(0.3)), dice.between(0.25, 0.5), 3 + dice.pick(6));
    for _ in 0..count {
        it.rise(rise);
        it.floor(tread);
    }
}

pub fn stairs_down(it: &mut Gauntlet, dice: &mut Dice) {
    let most = f64::from(it.tuning.values().ground.step) - 0.03;
    let (rise, tread, count) = (dice.between(0.1, most.min(0.3)), dice.between(0.25, 0.5), 3 + dice.pick(6));
    for _ in 0..count {
        it.rise(-rise);
        it.floor(tread);
    }
}

fn slope(it: &mut Gauntlet, angle: f64, long: f64) {
    let rise = long * angle.to_radians().tan();
    let (x, y) = (it.x, it.y);
    let (from, to, half_turn) =
        if rise > 0.0 { ([x, y], [x + long, y + rise], "") } else { ([x + long, y + rise], [x, y], "") };
    it.solids += 1;
    let _ = writeln!(
        it.text,
        "[[terrain]]\nkind = \"ramp\"\nfrom = [{:.4}, {:.4}, 0]\nto = [{:.4}, {:.4}, 0]\nwidth = {:.1}{half_turn}",
        from[0],
        from[1],
        to[0],
        to[1],
        2.0 * HALF
    );
    it.x += long;
    it.rise(rise);
}

pub fn slope_up(it: &mut Gauntlet, dice: &mut Dice) {
    let most = f64::from(it.tuning.values().ground.steepest) - 3.0;
    slope(it, dice.between(3.0, most), dice.between(2.0, 4.0));
}

pub fn slope_down(it: &mut Gauntlet, dice: &mut Dice) {
    let most = f64::from(it.tuning.values().ground.steepest) - 3.0;
    slope(it, -dice.between(3.0, most), dice.between(2.0, 4.0));
}

/// A pit to jump over, with a floor from which it gets up again.
pub fn gap(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(2.0);
    let (x, y, long) = (it.x, it.y, it.jump_length() * dice.between(0.35, 0.7));
    it.block((x, long), (y - 1.6, y - 1.1), "");
    it.low = it.low.min(y - 1.6);
    it.x += long;
    it.cue([When::At(x - 0.3), When::Standing], [Do::Press("jump", 0.6)]);
}

pub fn ladder(it: &mut Gauntlet, dice: &mut Dice) {
    let high = dice.between(2.6, 4.5);
    let rungs = it.surface("hold = \"ladder\"");
    let (x, y) = (it.x, it.y);
    it.solid("box", [x - 0.03, y, 0.0], &format!("size = [0.06, {high:.4}, {:.1}]\n{rungs}", 2.0 * HALF));
    it.block((x, 1.0), (y - THICK, y + high), "");
    it.x += 1.0;
    it.rise(high);
}

pub fn pool(it: &mut Gauntlet, dice: &mut Dice) {
    let (x, y) = (it.x, it.y);
    slope(it, -30.0, 4.0);
    it.floor(dice.between(2.0, 5.0));
    let floor = it.y;
    slope(it, 30.0, 4.0);
    let level = y - dice.between(0.1, 0.4);
    let end = it.x;
    let swells = if dice.unit() < 0.4 {
        "swells = [{ along = [1, 0, 0.2], height = 0.2, length = 5, period = 2.3 }]"
    } else {
        ""
    };
    let water = format!("water = [0, {level:.4}, 0]\n{swells}");
    it.zone([x - 1.0, floor - 0.5, -HALF], [end + 1.0, y + 0.4, HALF], &water);
}

pub fn lift(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let (x, y, high) = (it.x, it.y, dice.between(1.5, 4.0));
    let track = format!(
        "after = \"again\"\ntrack = [{{ time = 0 }}, {{ time = 2 }}, {{ time = 4, move = [0, {high:.4}, 0] }}, {{ time = 6, move = [0, {high:.4}, 0] }}, {{ time = 8 }}]"
    );
    it.block((x + 0.01, 2.98), (y - THICK, y), &track);
    it.x += 3.0;
    it.rise(high);
    it.block((x + 3.0, 0.5), (y - THICK, y + high), "");
    it.x += 0.5;
    it.cue([When::At(x - 0.8)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Phase(8.0, 0.05, 0.3), When::After(0.5)], [Do::Head(1.0, 0.0)]);
    it.cue([When::At(x + 1.4)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Above(y + high - 1e-3), When::Phase(8.0, 4.2, 5.0)], [Do::Head(1.0, 0.0)]);
}

pub fn turntable(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let (x, y) = (it.x, it.y);
    it.floor(4.0);
    let (by, every) = (if dice.unit() < 0.5 { 120 } else { -120 }, dice.between(2.0, 6.0));
    let keys: Vec<String> =
        (0..4).map(|n| format!("{{ time = {:.4}, turn = {} }}", every * f64::from(n), by * n)).collect();
    let track = format!("radius = 1.8\nheight = 0.15\nafter = \"again\"\ntrack = [{}]", keys.join(", "));
    it.solid("cylinder", [x + 2.0, y, 0.0], &track);
}

pub fn flip(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let (x, y, long) = (it.x, it.y, dice.between(3.0, 6.0));
    let ceiling = y + it.height() + dice.between(0.8, 1.8);
    it.block((x - 0.5, long + 1.0), (ceiling, ceiling + THICK), "");
    it.zone([x, y - 0.5, -HALF], [x + long, ceiling + 0.5, HALF], "pull = [0, 1, 0]");
    it.floor(long + 1.0);
}

pub fn flip_itself(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let (x, y, long) = (it.x, it.y, dice.between(4.0, 7.0));
    let ceiling = y + it.height() + dice.between(0.8, 1.8);
    it.block((x - 0.5, long + 1.0), (ceiling, ceiling + THICK), "");
    it.floor(long + 2.0);
    it.cue([When::At(x + 0.6)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second, When::After(0.3)], [Do::Flip]);
    it.cue([When::Standing, When::After(0.5)], [Do::Head(1.0, 0.0)]);
    it.cue([When::At(x + 0.5 * long)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second, When::After(0.3)], [Do::Flip]);
    it.cue([When::Standing, When::After(0.5)], [Do::Head(1.0, 0.0)]);
}

pub fn pad(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let (x, y) = (it.x, it.y);
    let (ahead, up) = (dice.between(4.0, 7.0), dice.between(5.0, 8.0));
    let time = 2.0 * up / self_gravity(it);
    let zone = format!("launch = [{ahead:.4}, {up:.4}, 0]\nlasts = {time:.4}");
    it.zone([x, y - 0.2, -HALF], [x + 0.4, y + 1.0, HALF], &zone);
    it.floor(0.8);
    let (x, long) = (it.x, ahead * time * 0.5);
    it.block((x, long), (y - 1.6, y - 1.1), "");
    it.low = it.low.min(y - 1.6);
    it.x += long;
    it.floor(ahead * time * 0.8 + 1.0);
}

fn self_gravity(it: &Gauntlet) -> f64 {
    it.tuning.falling_gravity()
}

pub fn thrown(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let x = it.x;
    it.floor(6.0);
    it.cue([When::At(x), When::Standing], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second, When::After(0.3)], [Do::Launch(dice.between(0.0, 5.0), dice.between(2.0, 6.0))]);
    it.cue([When::After(0.2)], [Do::Head(1.0, 0.0)]);
}

pub fn low_ceiling(it: &mut Gauntlet, dice: &mut Dice) {
    under(it, dice.between(1.5, 4.0), newel::Stance::Crouch, "crouch");
}

pub fn crawl(it: &mut Gauntlet, dice: &mut Dice) {
    under(it, dice.between(1.0, 2.0), newel::Stance::Prone, "prone");
}

fn under(it: &mut Gauntlet, long: f64, stance: newel::Stance, word: &'static str) {
    it.floor(1.2);
    let low = it.tuning.low(stance).map_or(0.7 * it.height(), |low| f64::from(low.height.unwrap_or(1.2)));
    let (x, y, height) = (it.x, it.y, it.height());
    it.block((x, long), (y + low + 0.1, y + height + 1.0), "");
    it.floor(long + 1.0);
    it.cue([When::At(x - 0.9), When::Standing], [Do::Stance(word)]);
    it.cue([When::At(x + long + 0.7)], [Do::Stance("stand")]);
}

pub fn one_way_up(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let planks = it.surface("one_way = true");
    let (x, y, up) = (it.x, it.y, it.jump_height() * dice.between(0.5, 0.85));
    it.block((x, 4.0), (y + up - 0.08, y + up), &planks);
    it.floor(4.0);
    it.rise(up);
    it.block((x + 4.0, 0.5), (y - THICK, y + up), "");
    it.x += 0.5;
    it.cue([When::At(x + 0.2), When::Standing], [Do::Press("jump", 0.6)]);
}

pub fn one_way_down(it: &mut Gauntlet, dice: &mut Dice) {
    let planks = it.surface("one_way = true");
    let (x, y, down) = (it.x, it.y, it.height() + dice.between(0.4, 1.0));
    it.block((x, 4.0), (y - 0.08, y), &planks);
    it.rise(-down);
    it.floor(4.0);
    it.block((x + 4.0, 0.3), (y - 0.3, y + 2.5), "");
    it.floor(0.3);
    it.cue([When::At(x + 1.0), When::Standing], [Do::Press("drop", 0.1)]);
}

pub fn belt(it: &mut Gauntlet, dice: &mut Dice) {
    let speed = dice.between(0.5, 1.5) * if dice.unit() < 0.5 { 1.0 } else { -1.0 };
    it.floor_of(dice.between(2.0, 4.0), &format!("belt = [{speed:.4}, 0, 0]"));
}

pub fn ledge(it: &mut Gauntlet, dice: &mut Dice) {
    let high = dice.between(1.1, 1.55);
    it.rise(high);
    let (x, y) = (it.x, it.y);
    it.block((x, 1.5), (y - high - THICK, y), "");
    it.x += 1.5;
}

pub fn vault(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(2.0);
    let (x, y) = (it.x, it.y);
    it.block((x, 0.3), (y, y + dice.between(0.6, 0.95)), "");
    it.floor(3.0);
}

pub fn wind(it: &mut Gauntlet, dice: &mut Dice) {
    let (x, y, long) = (it.x, it.y, dice.between(3.0, 6.0));
    let speed = dice.between(-8.0, 8.0);
    let gusts = if dice.unit() < 0.5 { "every = 1.7\nlasts = 0.9\nswells = 0.3\nlull = 0.3" } else { "" };
    it.zone([x, y - 1.0, -HALF], [x + long, y + 3.0, HALF], &format!("wind = [{speed:.4}, 0, 0]\n{gusts}"));
    it.floor(long);
}

pub fn hover(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.5);
    let (x, y, long) = (it.x, it.y, dice.between(2.0, 5.0));
    it.block((x, long), (y - 1.6, y - 1.1), "");
    it.low = it.low.min(y - 1.6);
    it.x += long;
    it.floor(2.0);
    it.cue([When::At(x - 0.8), When::Standing], [Do::Press("jump", 0.15)]);
    it.cue([When::After(0.16)], [Do::Press("hover", 0.1)]);
    it.cue([When::At(x + long + 0.8)], [Do::Press("hover", 0.1)]);
}

pub fn slide(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(4.0);
    let (x, y, long, height) = (it.x, it.y, dice.between(0.3, 1.0), it.height());
    let low = it.tuning.low(newel::Stance::Crouch).and_then(|low| low.height).map_or(1.2, f64::from);
    it.block((x, long), (y + low + 0.1, y + height + 1.0), "");
    it.floor(long + 3.0);
    it.cue([When::At(x - 3.5)], [Do::Press("sprint", 1.0)]);
    it.cue([When::At(x - 1.2), When::Standing], [Do::Press("slide", 0.4), Do::Stance("crouch")]);
    it.cue([When::At(x + long + 0.8)], [Do::Stance("stand")]);
}

pub fn dash(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.0);
    let x = it.x;
    it.floor(dice.between(4.0, 6.0));
    it.cue([When::At(x), When::Standing], [Do::Press("dash", 0.1)]);
    it.cue([When::After(1.2)], [Do::Head(1.0, 0.0)]);
}

pub fn light(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(1.5);
    let (x, y, long) = (it.x, it.y, it.jump_length() * dice.between(0.8, 1.2));
    it.zone([x - 1.0, y - 2.0, -HALF], [x + long + 2.0, y + 6.0, HALF], "gravity = 0.5");
    it.block((x, long), (y - 1.6, y - 1.1), "");
    it.low = it.low.min(y - 1.6);
    it.x += long;
    it.floor(2.5);
    it.cue([When::At(x - 0.3), When::Standing], [Do::Press("jump", 1.2)]);
}

pub fn ice(it: &mut Gauntlet, dice: &mut Dice) {
    let slick = format!("grip = {:.3}\nspeed = {:.3}", dice.between(0.05, 1.5), dice.between(0.4, 1.3));
    let ice = it.surface(&slick);
    it.floor_of(dice.between(2.0, 4.0), &ice);
}

/// A gate that opens and closes; it is waited for.
pub fn gate(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(2.0);
    let (x, y) = (it.x, it.y);
    let up = it.height() + 0.5;
    let late = dice.between(0.0, 1.0);
    let track = format!(
        "after = \"again\"\ntrack = [{{ time = 0 }}, {{ time = {0:.4} }}, {{ time = {1:.4}, move = [0, {up:.4}, 0] }}, {{ time = {2:.4}, move = [0, {up:.4}, 0] }}, {{ time = {3:.4} }}]",
        1.0 + late,
        2.0 + late,
        5.0 + late,
        6.0 + late
    );
    it.block((x, 0.3), (y + 0.02, y + 0.02 + it.height()), &track);
    it.floor(2.0);
    let end = 6.0 + late;
    it.cue([When::At(x - 1.2)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Phase(end, 2.1 + late, 2.5 + late), When::After(0.3)], [Do::Head(1.0, 0.0)]);
}

pub fn displaced(it: &mut Gauntlet, dice: &mut Dice) {
    let x = it.x;
    it.floor(3.0);
    it.cue([When::At(x + 0.5)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second, When::After(0.3)], [Do::Displace(dice.between(0.2, 1.5)), Do::Head(1.0, 0.0)]);
}

pub fn slowed(it: &mut Gauntlet, dice: &mut Dice) {
    let x = it.x;
    it.floor(2.5);
    it.cue([When::At(x)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second], [Do::Speed(dice.between(0.3, 1.4)), Do::Head(1.0, 0.0)]);
    let x = it.x;
    it.cue([When::At(x)], [Do::Head(0.0, 0.0)]);
    it.cue([When::Second], [Do::Speed(1.0), Do::Head(1.0, 0.0)]);
}

pub fn sprint(it: &mut Gauntlet, dice: &mut Dice) {
    let x = it.x;
    it.floor(5.0);
    it.cue([When::At(x)], [Do::Press("sprint", dice.between(0.3, 1.0))]);
}

/// Posts to slip past.
pub fn posts(it: &mut Gauntlet, dice: &mut Dice) {
    it.floor(0.8);
    for _ in 0..3 {
        let (x, y, z) = (it.x, it.y, dice.between(-0.5, 0.5));
        let radius = dice.between(0.1, 0.25);
        it.solid("cylinder", [x, y, z], &format!("radius = {radius:.3}\nheight = 2.5"));
        it.floor(1.4);
    }
}
