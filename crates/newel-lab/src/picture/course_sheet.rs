//! The picture of a run: the course from above and from the side with the path, height and speed over time below.

use newel::glam::{DVec3, Vec3};
use newel::{Event, EventKind, Mode, Stance};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;
use plotters::style::text_anchor::{HPos, Pos, VPos};

use super::Format;
use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, Inset, LINE, PAPER, SIZE, Sheet, TEAL, font, render, title};
use super::figure::draw_outline;
use super::relief::Relief;
use super::timeline::Timeline;
use super::view::Frame;
use super::zone_marks::{draw_box, draw_zone};
use crate::course::{Course, MOVING, SEA};
use crate::summary::Summary;
use crate::trace::{Row, Trace};

/// Where things are on the sheet, pixels.
const TOP: i32 = 62;
const LARGE: ((i32, i32), (usize, usize)) = ((20, TOP), (700, 408));
const SMALL: ((i32, i32), (usize, usize)) = ((740, TOP), (520, 236));
const KEY: (i32, i32) = (744, 318);
const CHARTS: i32 = 486;
/// The colour of planned routes.
const PLANNED: RGBColor = RGBColor(247, 198, 64);

/// Draws a run of a course.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn course_sheet(course: &Course, trace: &Trace, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    render(&CourseSheet::new(course, trace), format)
}

struct CourseSheet<'a> {
    course: &'a Course,
    trace: &'a Trace,
    frames: [Frame; 2],
    insets: Vec<Inset>,
}

impl<'a> CourseSheet<'a> {
    fn new(course: &'a Course, trace: &'a Trace) -> CourseSheet<'a> {
        let height = f64::from(course.tuning.shape().height);
        let shown: Vec<DVec3> = shown(trace, height);
        // What is played from the side is shown large from the side.
        let plane = course.spawn.plane;
        let from_side = plane != Vec3::ZERO && plane.dot(course.spawn.up).abs() < 0.5 * plane.length();
        let plan = |(at, size)| Frame::plan(at, size, &shown);
        let side = |(at, size)| Frame::side(at, size, &shown);
        let frames = if from_side { [side(LARGE), plan(SMALL)] } else { [plan(LARGE), side(SMALL)] };
        let inset = |f: &Frame| Inset { at: f.at, relief: Relief::draw(&course.scene, f, course.sea_level.is_some()) };
        let insets = frames.iter().map(inset).collect();
        CourseSheet { course, trace, frames, insets }
    }
}

/// What the views must hold: the path, and the character standing on it; not the depths it may have fallen to.
fn shown(trace: &Trace, height: f64) -> Vec<DVec3> {
    let floor = trace.bottom - 2.0;
    let rows = trace.rows.iter().filter(|r| r.position.y >= floor || r.tick == 0);
    rows.flat_map(|r| [r.feet, r.feet + r.axis.as_dvec3() * height]).collect()
}

impl Sheet for CourseSheet<'_> {
    fn insets(&self) -> &[Inset] {
        &self.insets
    }

    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        title(root, self.course.title.clone())?;
        for frame in &self.frames {
            let (x, y) = frame.at;
            root.draw(&Text::new(view_name(frame), (x + 1, y - 19), font(13.0)))?;
            // The sea has no outline.
            for zone in self.course.scene.solids.zones().iter().filter(|zone| zone.id != SEA) {
                draw_zone(root, frame, zone, frame.at == LARGE.0)?;
            }
            for ((on, sensor), name) in self.course.scene.solids.sensors_given().iter().zip(&self.course.scene.sensors)
            {
                let when = newel::When::tick(0, 1.0 / self.course.rate);
                let at = self.course.scene.solids.pose_of(*on, when).map_or(DVec3::ZERO, |pose| pose.0);
                draw_box(root, frame, (sensor.min + at, sensor.max + at), name, frame.at == LARGE.0)?;
            }
            self.draw_planned(root, frame)?;
            self.draw_path(root, frame)?;
            self.draw_figures(root, frame)?;
            self.draw_marks(root, frame)?;
            self.draw_bar(root, frame)?;
            let (w, h) = frame.size();
            root.draw(&Rectangle::new([(x, y), (x + w as i32, y + h as i32)], LINE))?;
        }
        self.draw_key(root)?;
        let charts = root.clone().shrink((12, CHARTS), (SIZE.0 - 32, SIZE.1 as i32 - CHARTS - 6));
        Timeline::new(self.trace).draw(&charts)
    }
}

fn view_name(frame: &Frame) -> &'static str {
    if frame.toward() == DVec3::Y {
        return "from above, north up";
    }
    if frame.right() == DVec3::X { "from the side, looking north" } else { "from the side, looking west" }
}

impl CourseSheet<'_> {
    /// The routes that were planned: broad and pale, so that the path walked shows on top of them, with a ring where a leg ends.
    fn draw_planned<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for planned in &self.trace.planned {
            let points: Vec<_> = planned.places.iter().map(|p| frame.pixel(*p)).filter(|p| inside(frame, *p)).collect();
            root.draw(&PathElement::new(points.clone(), PLANNED.mix(0.75).stroke_width(9)))?;
            for at in points {
                root.draw(&Circle::new(at, 6, PLANNED.filled()))?;
                root.draw(&Circle::new(at, 6, PAPER))?;
            }
        }
        Ok(())
    }

    /// The path of the feet: a whole line on the ground, dashes in the air, hovering and holding on, all with a pale rim.
    fn draw_path<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for piece in self.trace.rows.chunk_by(|a, b| a.mode == b.mode) {
            // A piece starts where the one before ended.
            let first = piece[0].tick.saturating_sub(1) as usize;
            let rows = &self.trace.rows[first..=piece[piece.len() - 1].tick as usize];
            let points = clip(frame, rows);
            if piece[0].mode == Mode::Slide {
                root.draw(&PathElement::new(points.clone(), PAPER.stroke_width(5)))?;
                root.draw(&PathElement::new(points, TEAL.stroke_width(3)))?;
            } else if !piece[0].mode.is_on_ground() {
                let colour = match piece[0].mode {
                    Mode::Air => AIR,
                    Mode::Climb | Mode::Ledge => GROUND,
                    _ => TEAL,
                };
                root.draw(&PathElement::new(points.clone(), PAPER.stroke_width(5)))?;
                for dash in dashes(&points) {
                    root.draw(&PathElement::new(dash, colour.stroke_width(3)))?;
                }
            } else {
                root.draw(&PathElement::new(points.clone(), PAPER.stroke_width(5)))?;
                root.draw(&PathElement::new(points, GROUND.stroke_width(2)))?;
            }
        }
        Ok(())
    }

    /// From the side, where its shape changes in the run: its outline at intervals along the path.
    fn draw_figures<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        if frame.is_plan() || self.trace.rows.iter().all(|r| is_as_ever(r, self.trace.rows[0].axis)) {
            return Ok(());
        }
        let mut last: Option<(i32, i32)> = None;
        for row in &self.trace.rows {
            let at = frame.pixel(row.feet);
            let apart = (2.6 * f64::from(row.drawn.radius) * frame.scale).max(14.0);
            let near = last.is_some_and(|(x, y)| f64::from(x - at.0).hypot(f64::from(y - at.1)) < apart);
            if near || !inside(frame, at) {
                continue;
            }
            last = Some(at);
            let colour = match row.stance {
                _ if row.mode == Mode::Slide => TEAL,
                Stance::Stand => FAINT,
                _ => INK,
            };
            let (feet, axis) = (row.feet, row.axis.as_dvec3());
            let side = frame.beside(axis);
            draw_outline(root, &row.drawn, colour, |across, up| frame.pixel(feet + side * across + axis * up))?;
        }
        Ok(())
    }

    fn draw_marks<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for row in self.trace.rows.iter().filter(|r| r.tick > 0 && is_whole(r.time, 5.0, self.trace.rate)) {
            let at = frame.pixel(row.feet);
            if inside(frame, at) {
                root.draw(&Circle::new(at, 3, PAPER.filled()))?;
                root.draw(&Circle::new(at, 3, GROUND))?;
                label(root, (at.0 + 6, at.1 - 15), &format!("{:.0} s", row.time))?;
            }
        }
        let mut worded: Vec<(i32, i32)> = Vec::new();
        for event in &self.trace.events {
            // What is not upright is drawn by its feet.
            let row = self.trace.at(event.time);
            let at = frame.pixel(if row.feet == row.position { event.place } else { row.feet });
            if inside(frame, at) {
                draw_mark(root, at, event)?;
                if let Some(words) = hardness(event).filter(|_| frame.at == LARGE.0) {
                    let place = clear_of(&worded, frame, at, words.len() as i32 * 6);
                    label(root, place, &words)?;
                    worded.push(place);
                }
            }
        }
        let last = self.trace.rows.len() - 1;
        for (row, name) in [(&self.trace.rows[0], "start"), (&self.trace.rows[last], "end")] {
            let at = frame.pixel(row.feet);
            if inside(frame, at) {
                root.draw(&Circle::new(at, 5, PAPER.filled()))?;
                root.draw(&Circle::new(at, 5, INK.stroke_width(2)))?;
                label(root, (at.0 + 8, at.1 + 2), name)?;
            }
        }
        Ok(())
    }

    fn draw_key<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let (x, y) = KEY;
        let row = |i: i32| y + 8 + 18 * i;
        root.draw(&PathElement::new(vec![(x, row(0)), (x + 34, row(0))], GROUND.stroke_width(2)))?;
        root.draw(&Text::new("on the ground", (x + 44, row(0) - 8), font(13.0)))?;
        for dash in dashes(&[(x, row(1)), (x + 34, row(1))]) {
            root.draw(&PathElement::new(dash, AIR.stroke_width(3)))?;
        }
        root.draw(&Text::new("in the air", (x + 44, row(1) - 8), font(13.0)))?;
        let marks = [(MarkKind::Jump, "jump"), (MarkKind::Fall, "ground left"), (MarkKind::Land, "landing")];
        for (i, (kind, name)) in marks.into_iter().enumerate() {
            let at = (x + 170 + 112 * i as i32, row(0));
            mark(root, at, kind)?;
            root.draw(&Text::new(name, (at.0 + 11, at.1 - 8), font(13.0)))?;
        }
        root.draw(&Circle::new((x + 170, row(1)), 3, GROUND))?;
        root.draw(&Text::new("every 5 s", (x + 181, row(1) - 8), font(13.0)))?;
        if self.course.scene.solids.is_moving() {
            let colour = MOVING.map(|c| (c * 255.0) as u8);
            let at = (x + 282, row(1));
            let swatch = [(at.0 - 6, at.1 - 6), (at.0 + 6, at.1 + 6)];
            root.draw(&Rectangle::new(swatch, RGBColor(colour[0], colour[1], colour[2]).filled()))?;
            root.draw(&Text::new("moves, drawn where it starts", (at.0 + 11, at.1 - 8), font(13.0)))?;
        }
        let figures = self.draw_figures_key(root, (x, row(2)))?;
        let does = |mode: Mode| self.trace.rows.iter().any(|r| r.mode == mode);
        let floating = match (does(Mode::Hover), does(Mode::Swim)) {
            (true, true) => "hovering, swimming",
            (false, true) => "swimming",
            _ => "hovering",
        };
        let floats = does(Mode::Hover) || does(Mode::Swim);
        if floats {
            let x = if figures { x + 400 } else { x };
            for dash in [(0, 9), (14, 23), (28, 34)] {
                root.draw(&PathElement::new(vec![(x + dash.0, row(2)), (x + dash.1, row(2))], TEAL.stroke_width(3)))?;
            }
            root.draw(&Text::new(floating, (x + 44, row(2) - 8), font(13.0)))?;
        }
        let holds = self.trace.rows.iter().any(|r| r.mode.holds_on());
        if holds {
            let x = x + 282;
            for dash in dashes(&[(x, row(1)), (x + 34, row(1))]) {
                root.draw(&PathElement::new(dash, GROUND.stroke_width(3)))?;
            }
            root.draw(&Text::new("holding on by its hands", (x + 44, row(1) - 8), font(13.0)))?;
        }
        let plans = !self.trace.planned.is_empty();
        let senses = !self.course.scene.sensors.is_empty();
        if plans {
            let x = if figures || floats { x + 282 } else { x };
            root.draw(&PathElement::new(vec![(x, row(2)), (x + 34, row(2))], PLANNED.stroke_width(9)))?;
            root.draw(&Text::new("route planned", (x + 44, row(2) - 8), font(13.0)))?;
        }
        let figures = figures || floats || plans;
        for (i, (name, value)) in Summary::of(self.trace)
            .lines()
            .into_iter()
            .filter(|line| !(plans || senses) || line.0 != "state")
            .enumerate()
        {
            let down = row(if figures { 3 } else { 2 }) - 6 + 15 * i as i32;
            root.draw(&Text::new(name, (x, down), font(12.5).color(&FAINT)))?;
            root.draw(&Text::new(value, (x + 82, down), font(12.5)))?;
        }
        Ok(())
    }

    /// What the figures along the path are, where there are any; true where there are.
    fn draw_figures_key<DB: DrawingBackend>(
        &self,
        root: &DrawingArea<DB, Shift>,
        (x, y): (i32, i32),
    ) -> Result<bool, Box<dyn std::error::Error>>
    where
        DB::ErrorType: 'static,
    {
        let rows = &self.trace.rows;
        let kinds: [(&str, RGBColor, bool); 3] = [
            ("sliding", TEAL, rows.iter().any(|r| r.mode == Mode::Slide)),
            ("standing", FAINT, rows.iter().any(|r| !r.stance.is_low())),
            ("crouched or flat", INK, rows.iter().any(|r| r.stance.is_low() && r.mode != Mode::Slide)),
        ];
        if rows.iter().all(|r| is_as_ever(r, rows[0].axis)) {
            return Ok(false);
        }
        for (i, (words, colour, _)) in kinds.into_iter().filter(|k| k.2).enumerate() {
            let at = (x + 130 * i as i32, y);
            root.draw(&Rectangle::new([(at.0, at.1 - 6), (at.0 + 12, at.1 + 6)], colour.mix(0.16).filled()))?;
            root.draw(&Rectangle::new([(at.0, at.1 - 6), (at.0 + 12, at.1 + 6)], colour))?;
            root.draw(&Text::new(words, (at.0 + 20, at.1 - 8), font(13.0)))?;
        }
        Ok(true)
    }

    /// The scale, in the lower corner that less of the path runs through.
    fn draw_bar<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let bar = frame.bar();
        let (w, h) = frame.size();
        let length = (bar * frame.scale) as i32;
        let y = frame.at.1 + h as i32 - 12;
        let path: Vec<_> = self.trace.rows.iter().map(|r| frame.pixel(r.feet)).collect();
        let taken = |left: i32| {
            let near = |p: &&(i32, i32)| (left - 30..left + length + 30).contains(&p.0) && p.1 > y - 50;
            path.iter().filter(near).count()
        };
        let corners = [frame.at.0 + w as i32 - 14 - length, frame.at.0 + 14];
        let left = if taken(corners[0]) <= taken(corners[1]) { corners[0] } else { corners[1] };
        let right = left + length;
        root.draw(&Rectangle::new([(left - 8, y - 22), (right + 8, y + 7)], PAPER.mix(0.85).filled()))?;
        root.draw(&PathElement::new(vec![(left, y - 4), (left, y), (right, y), (right, y - 4)], INK.stroke_width(2)))?;
        let style = font(12.0).pos(Pos::new(HPos::Center, VPos::Bottom));
        root.draw(&Text::new(format!("{bar} m"), ((left + right) / 2, y - 3), style))?;
        Ok(())
    }
}

fn is_whole(time: f64, step: f64, rate: f64) -> bool {
    let off = time - (time / step).round() * step;
    off.abs() < 0.5 / rate
}

fn clip(frame: &Frame, rows: &[Row]) -> Vec<(i32, i32)> {
    rows.iter().map(|r| frame.pixel(r.feet)).filter(|p| inside(frame, *p)).collect()
}

/// True where its shape and the way it points are as they always were.
fn is_as_ever(row: &Row, axis: newel::glam::Vec3) -> bool {
    !row.stance.is_low() && row.axis == axis
}

pub(super) fn inside(frame: &Frame, (x, y): (i32, i32)) -> bool {
    let (w, h) = frame.size();
    (frame.at.0..=frame.at.0 + w as i32).contains(&x) && (frame.at.1..=frame.at.1 + h as i32).contains(&y)
}

/// Cuts a line into dashes of 8 pixels with gaps of 5.
pub(super) fn dashes(points: &[(i32, i32)]) -> Vec<Vec<(i32, i32)>> {
    let (on, off) = (8.0, 5.0);
    let mut pieces = Vec::new();
    let mut piece: Vec<(i32, i32)> = points.first().copied().into_iter().collect();
    let (mut left, mut drawing) = (on, true);
    for pair in points.windows(2) {
        let way = (f64::from(pair[1].0 - pair[0].0), f64::from(pair[1].1 - pair[0].1));
        let length = way.0.hypot(way.1);
        let mut done = 0.0;
        while length - done > left {
            done += left;
            let at = |d: f64| (pair[0].0 + (way.0 * d / length) as i32, pair[0].1 + (way.1 * d / length) as i32);
            if drawing {
                piece.push(at(done));
                pieces.push(std::mem::take(&mut piece));
            } else {
                piece = vec![at(done)];
            }
            drawing = !drawing;
            left = if drawing { on } else { off };
        }
        left -= length - done;
        if drawing {
            piece.push(pair[1]);
        }
    }
    if piece.len() > 1 {
        pieces.push(piece);
    }
    pieces
}

pub(super) fn label<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, at: (i32, i32), text: &str) -> Drawn
where
    DB::ErrorType: 'static,
{
    // A pale rim keeps it readable on any ground.
    for (dx, dy) in [(-1, 0), (1, 0), (0, -1), (0, 1)] {
        root.draw(&Text::new(text.to_owned(), (at.0 + dx, at.1 + dy), font(12.0).color(&PAPER)))?;
    }
    root.draw(&Text::new(text.to_owned(), at, font(12.0)))?;
    Ok(())
}

#[derive(Clone, Copy, PartialEq)]
enum MarkKind {
    Jump,
    Fall,
    Land,
}

fn draw_mark<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, at: (i32, i32), event: &Event) -> Drawn
where
    DB::ErrorType: 'static,
{
    match event.kind {
        EventKind::Jumped { .. } => mark(root, at, MarkKind::Jump),
        EventKind::LeftGround { .. } => mark(root, at, MarkKind::Fall),
        EventKind::Landed { .. } => mark(root, at, MarkKind::Land),
        _ => Ok(()),
    }
}

/// How hard a landing was, where it was hard at all.
fn hardness(event: &Event) -> Option<String> {
    let EventKind::Landed { speed, hardness, .. } = event.kind else { return None };
    match hardness {
        0.0 => None,
        1.0 => Some(format!("{speed:.1} m/s: lethal")),
        hard => Some(format!("{speed:.1} m/s: {:.0} % hard", hard * 100.0)),
    }
}

/// A place beside a mark for words of a width, in the frame and over none of those before.
fn clear_of(others: &[(i32, i32)], frame: &Frame, mark: (i32, i32), width: i32) -> (i32, i32) {
    let left = if inside(frame, (mark.0 + 9 + width, mark.1)) { mark.0 + 9 } else { mark.0 - 9 - width };
    let taken = |y: i32| others.iter().any(|o| (o.1 - y).abs() < 14 && (o.0 - left).abs() < width + 40);
    let heights = [-31, -45, -59, 12, 26].map(|over| mark.1 + over);
    (left, heights.into_iter().find(|y| !taken(*y)).unwrap_or(mark.1 - 31))
}

fn mark<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, (x, y): (i32, i32), kind: MarkKind) -> Drawn
where
    DB::ErrorType: 'static,
{
    let shape = match kind {
        MarkKind::Jump => vec![(x - 6, y + 5), (x + 6, y + 5), (x, y - 6)],
        MarkKind::Fall => vec![(x - 6, y - 5), (x + 6, y - 5), (x, y + 6)],
        MarkKind::Land => vec![(x - 5, y - 5), (x + 5, y - 5), (x + 5, y + 5), (x - 5, y + 5)],
    };
    let mut rim = shape.clone();
    rim.push(shape[0]);
    root.draw(&Polygon::new(shape, if kind == MarkKind::Land { PAPER.filled() } else { AIR.filled() }))?;
    root.draw(&PathElement::new(
        rim,
        if kind == MarkKind::Land { AIR.stroke_width(2) } else { PAPER.stroke_width(1) },
    ))?;
    Ok(())
}
