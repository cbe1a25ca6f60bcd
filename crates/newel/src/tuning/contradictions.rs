//! Numbers of a tuning that cannot both be meant.

use super::{Jump, Size, Slide, Swim, TuningError, TuningValues, low, shape_in};
use crate::shape::Form;
use crate::stance::Stance;

/// The greatest speed a character can have, m/s.
const FASTEST: f32 = crate::modifiers::MOST_SPEED as f32;

type Checked = Result<(), TuningError>;

fn refuse(field: &'static str, value: f32, reason: &'static str, bound: f32) -> Checked {
    Err(TuningError::Contradiction { field, value, reason, bound })
}

pub(super) fn check(values: &TuningValues) -> Checked {
    let Size { height, .. } = values.size;
    check_width(&values.size, "size.radius")?;
    let step = values.ground.step;
    if step > height / 2.0 {
        let reason = "a step is at most half as high as the character, so at most half of size.height is allowed";
        return refuse("ground.step", step, reason, height / 2.0);
    }
    let stick = values.stick;
    if stick.dead_zone >= stick.full_zone {
        let reason =
            "between the dead zone and full speed there must be some way, so less than stick.full_zone is allowed";
        return refuse("stick.dead_zone", stick.dead_zone, reason, stick.full_zone);
    }
    let gait = values.gait;
    if gait.still > gait.moving {
        let reason = "what has stopped is not moving, so at most gait.moving is allowed";
        return refuse("gait.still", gait.still, reason, gait.moving);
    }
    let impact = values.impact;
    if impact.safe >= impact.lethal {
        let reason = "what is lethal is faster than what is safe, so less than impact.lethal is allowed";
        return refuse("impact.safe", impact.safe, reason, impact.lethal);
    }
    if let Some(dash) = values.dash.filter(|dash| dash.distance / dash.time > FASTEST) {
        let reason = "nothing is faster than 10000 m/s, so at most that times dash.time is allowed";
        return refuse("dash.distance", dash.distance, reason, FASTEST * dash.time);
    }
    if let Some(ledge) = values.ledge {
        let highest = values.size.straight();
        if ledge.hang > highest {
            let reason = "a ledge hung from is level with the straight of the shape, so at most size.height, of a capsule less size.radius, is allowed";
            return refuse("ledge.hang", ledge.hang, reason, highest);
        }
        if ledge.lowest > ledge.highest {
            let reason = "the lowest is no higher than the highest, so at most ledge.highest is allowed";
            return refuse("ledge.lowest", ledge.lowest, reason, ledge.highest);
        }
    }
    if let Some(vault) = values.vault.filter(|vault| vault.lowest > vault.highest) {
        let reason = "the lowest is no higher than the highest, so at most vault.highest is allowed";
        return refuse("vault.lowest", vault.lowest, reason, vault.highest);
    }
    values.swim.map_or(Ok(()), |swim| check_swim(&swim))?;
    check_stances(values)?;
    values.jump.map_or(Ok(()), |jump| check_jump(&jump, values.air.gravity))
}

fn check_width(size: &Size, field: &'static str) -> Checked {
    let (most, reason) = match size.form {
        Form::Capsule => (0.5, "a capsule is at least as high as it is wide, so at most half its height is allowed"),
        Form::Box => (2.0, "a box is at least a quarter as high as it is wide, so at most twice its height is allowed"),
    };
    if size.radius <= most * size.height {
        return Ok(());
    }
    refuse(field, size.radius, reason, most * size.height)
}

fn check_stances(values: &TuningValues) -> Checked {
    let mut above = values.size.height;
    let names = [("crouch.height", "crouch.radius"), ("prone.height", "prone.radius")];
    for (stance, (height, radius)) in [Stance::Crouch, Stance::Prone].into_iter().zip(names) {
        let Some(low) = low(values, stance) else { continue };
        let shape = shape_in(values, stance);
        if shape.height > above {
            let reason = "a low stance is not higher than the one above it, so at most that is allowed";
            return refuse(height, shape.height, reason, above);
        }
        above = shape.height;
        if let Some(wide) = low.radius {
            check_width(&Size { height: shape.height, radius: wide, ..values.size }, radius)?;
        }
    }
    values.slide.map_or(Ok(()), |slide| check_slide(&slide, values))
}

fn check_slide(slide: &Slide, values: &TuningValues) -> Checked {
    if values.crouch.is_none() {
        let reason = "a slide is as low as a crouch: give crouch.height, at most that of standing";
        return refuse("slide.from", slide.from, reason, values.size.height);
    }
    if slide.ends_below > slide.from {
        let reason = "it would end as it begins, so at most slide.from is allowed";
        return refuse("slide.ends_below", slide.ends_below, reason, slide.from);
    }
    if slide.fastest < slide.from {
        let reason = "it would be too fast from the start, so at least slide.from is allowed";
        return refuse("slide.fastest", slide.fastest, reason, slide.from);
    }
    Ok(())
}

fn check_swim(swim: &Swim) -> Checked {
    if swim.begins < swim.float {
        let reason = "what is deep enough to swim in carries, so at least swim.float is allowed";
        return refuse("swim.begins", swim.begins, reason, swim.float);
    }
    if swim.ends >= swim.float {
        let reason = "what floats free does not stand, so less than swim.float is allowed";
        return refuse("swim.ends", swim.ends, reason, swim.float);
    }
    let fastest = swim.speed.max(swim.sprint.unwrap_or(0.0)).max(swim.rise).max(swim.dive) + swim.idle.abs();
    if swim.acceleration < swim.drag * fastest {
        let reason = "strokes this weak never reach the top speed: at least swim.drag times the fastest of swim.speed, swim.sprint, swim.rise and swim.dive, and swim.idle, is needed, which is";
        return refuse("swim.acceleration", swim.acceleration, reason, swim.drag * fastest);
    }
    Ok(())
}

fn check_jump(jump: &Jump, gravity: f32) -> Checked {
    if jump.time_to_top.is_none() && gravity == 0.0 && jump.height > 0.0 {
        let reason = "a jump never tops out without gravity: give jump.time_to_top, or more air.gravity than";
        return refuse("jump.height", jump.height, reason, 0.0);
    }
    if let Some(time) = jump.time_down.filter(|_| jump.height == 0.0) {
        let reason = "a fall from no height takes no time: leave it out, or give more jump.height than";
        return refuse("jump.time_down", time, reason, 0.0);
    }
    if let Some(tap) = jump.tap_height.filter(|tap| *tap > jump.height) {
        let reason = "letting go early cannot make a jump higher, so at most jump.height is allowed";
        return refuse("jump.tap_height", tap, reason, jump.height);
    }
    // The slowest that either way between the ground and the top can be, twice its mean speed.
    let times = [jump.time_to_top, jump.time_down].into_iter().flatten();
    let fastest = times.map(|time| 2.0 * jump.height / time).fold(f32::INFINITY, f32::min);
    if jump.hang_speed > 0.0 && jump.hang_speed > fastest {
        let reason = "the whole jump would hang: at most twice its mean speed, up or down, is allowed";
        return refuse("jump.hang_speed", jump.hang_speed, reason, fastest);
    }
    Ok(())
}
