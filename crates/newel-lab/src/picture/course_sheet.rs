//! The picture of a run: the course from above and from the side with the path, height and speed over time below.

use newel::glam::{DVec3, Vec3};
use newel::{Event, EventKind, Form, Mode, Stance};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;
use plotters::style::text_anchor::{HPos, Pos, VPos};

use super::Format;
use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, Inset, LINE, PAPER, SIZE, Sheet, TEAL, font, render, title};
use super::course_key::draw_key;
use super::figure::draw_outline;
use super::labels::{Labels, beside};
use super::marks::{PLANNED, dashes, inside, is_as_ever, mark, mark_of};
use super::relief::Relief;
use super::rulers::draw_rulers;
use super::timeline::Timeline;
use super::view::Frame;
use super::zone_marks::{box_places, draw_box, zone_words};
use crate::course::{Course, SEA};
use crate::trace::{Row, Trace};

/// Where things are on the sheet, pixels.
const TOP: i32 = 62;
const LARGE: ((i32, i32), (usize, usize)) = ((20, TOP), (700, 408));
const SMALL: ((i32, i32), (usize, usize)) = ((740, TOP), (520, 208));
const KEY: (i32, i32) = (744, 290);
const CHARTS: i32 = 486;
/// Landings softer than this are not spoken of.
const SOFT: f32 = 0.05;
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
        // A side-view course is shown large from the side.
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

/// Content of the views: the path, and the character standing on it; not the depths it may have fallen to.
fn shown(trace: &Trace, height: f64) -> Vec<DVec3> {
    let rows = trace.rows.iter().filter(|r| !trace.is_out(r) || r.tick == 0);
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
        let ended =
            self.trace.fell_out().map_or(String::new(), |time| format!(": fell out of the world at {time:.2} s"));
        title(root, format!("{}{ended}", self.course.title))?;
        for frame in &self.frames {
            let (x, y) = frame.at;
            root.draw(&Text::new(view_name(frame), (x + 1, y - 19), font(13.0)))?;
            for (corners, _) in self.boxes(frame) {
                draw_box(root, frame, corners)?;
            }
            self.draw_planned(root, frame)?;
            self.draw_path(root, frame)?;
            self.draw_figures(root, frame)?;
            self.draw_marks(root, frame)?;
            let mut labels = Labels::new(frame);
            self.keep_marks_clear(frame, &mut labels);
            labels.avoid(clip(frame, &self.trace.rows));
            self.draw_bar(root, frame, &mut labels)?;
            draw_rulers(root, frame, &mut labels)?;
            self.draw_words(root, frame, &mut labels)?;
            let (w, h) = frame.size();
            root.draw(&Rectangle::new([(x, y), (x + w as i32, y + h as i32)], LINE))?;
        }
        draw_key(root, (self.course, self.trace), KEY, CHARTS)?;
        let charts = root.clone().shrink((12, CHARTS), (SIZE.0 - 32, SIZE.1 as i32 - CHARTS - 6));
        Timeline::new(self.trace).draw(&charts)
    }
}

fn view_name(frame: &Frame) -> &'static str {
    if frame.toward() == DVec3::Y {
        return "from above, north up: x to the right, z down, in metres";
    }
    if frame.right() == DVec3::X {
        "from the side, looking north: x to the right, y up, in metres"
    } else {
        "from the side, looking west: z to the left, y up, in metres"
    }
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
        let put = self.trace.ticks_put();
        let is_put = |row: &Row| put.binary_search(&row.tick).is_ok();
        for piece in self.trace.rows.chunk_by(|a, b| a.mode == b.mode && !is_put(b)) {
            // A piece starts where the one before ended, if it went on from there.
            let first = piece[0].tick.saturating_sub(u64::from(!is_put(&piece[0]))) as usize;
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
        let is_box = self.trace.rows[0].drawn.form == Form::Box;
        let changes = !self.trace.rows.iter().all(|r| is_as_ever(r, self.trace.rows[0].axis));
        if frame.is_plan() || !(is_box || changes) {
            return Ok(());
        }
        let mut last: Option<(i32, i32)> = None;
        for row in &self.trace.rows {
            let at = frame.pixel(row.feet);
            let apart = (2.6 * f64::from(row.drawn.radius) * frame.scale).max(14.0) * if changes { 1.0 } else { 2.0 };
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

    /// An outline and its label: zones, but for the sea, and sensors.
    fn boxes(&self, frame: &Frame) -> Vec<((DVec3, DVec3), String)> {
        let scene = &self.course.scene;
        let zones = scene.solids.zones().iter().filter(|zone| zone.id != SEA);
        let zones = zones.map(|zone| ((zone.min, zone.max), zone_words(&zone.effect, frame)));
        let when = newel::When::tick(0, 1.0 / self.course.rate);
        let sensors = scene.solids.sensors_given().iter().zip(&scene.sensors).map(|((on, sensor), name)| {
            let at = scene.solids.pose_of(*on, when).map_or(DVec3::ZERO, |pose| pose.0);
            ((sensor.min + at, sensor.max + at), name.clone())
        });
        zones.chain(sensors).collect()
    }

    /// No words go over marks.
    fn keep_marks_clear(&self, frame: &Frame, labels: &mut Labels) {
        let events = self.trace.events.iter().filter(|event| mark_of(event).is_some());
        let events = events.map(|event| self.place_of(event, frame));
        let ends = self.ends(frame).into_iter().map(|end| end.0);
        let moments = self.moments(frame).into_iter().map(|moment| moment.0);
        for (x, y) in events.chain(ends).chain(moments).filter(|at| inside(frame, *at)) {
            labels.keep_clear((x - 5, y - 5), (x + 5, y + 5));
        }
    }

    fn draw_marks<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for (at, _) in self.moments(frame) {
            root.draw(&Circle::new(at, 3, PAPER.filled()))?;
            root.draw(&Circle::new(at, 3, GROUND))?;
        }
        for event in &self.trace.events {
            let at = self.place_of(event, frame);
            if let Some(kind) = mark_of(event).filter(|_| inside(frame, at)) {
                mark(root, at, kind)?;
            }
        }
        for (at, _) in self.ends(frame) {
            root.draw(&Circle::new(at, 5, PAPER.filled()))?;
            root.draw(&Circle::new(at, 5, INK.stroke_width(2)))?;
        }
        Ok(())
    }

    /// In words: where it began and ended, how hard it landed, what is outlined, and when it was where; as far as there is room.
    fn draw_words<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame, labels: &mut Labels) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for (at, words) in self.ends(frame) {
            labels.write(root, words, beside(at, words.len()))?;
        }
        if frame.at == LARGE.0 {
            let mut landings: Vec<_> = self.trace.events.iter().filter_map(|e| Some((hardness(e)?, e))).collect();
            landings.sort_by(|a, b| b.0.0.total_cmp(&a.0.0));
            for ((_, words), event) in landings {
                labels.write(root, &words, beside(self.place_of(event, frame), words.len()))?;
            }
            for (corners, words) in self.boxes(frame) {
                labels.write(root, &words, box_places(frame, corners, words.chars().count()))?;
            }
        }
        for (at, row) in self.moments(frame) {
            let words = format!("{:.0} s", row.time);
            labels.write(root, &words, beside(at, words.len()))?;
        }
        Ok(())
    }

    /// Every five seconds, where it was.
    fn moments(&self, frame: &Frame) -> Vec<((i32, i32), &Row)> {
        let rows = self.trace.rows.iter().filter(|r| r.tick > 0 && is_whole(r.time, 5.0, self.trace.rate));
        rows.map(|row| (frame.pixel(row.feet), row)).filter(|(at, _)| inside(frame, *at)).collect()
    }

    /// Where it began and ended.
    fn ends(&self, frame: &Frame) -> Vec<((i32, i32), &'static str)> {
        let last = self.trace.rows.len() - 1;
        let ends = [(0, "start"), (last, "end")].map(|(row, name)| (frame.pixel(self.trace.rows[row].feet), name));
        if ends[0].0 == ends[1].0 {
            return vec![(ends[0].0, "start, end")];
        }
        ends.into_iter().filter(|(at, _)| inside(frame, *at)).collect()
    }

    /// Where something happened, in the picture: what is not upright is drawn by its feet.
    fn place_of(&self, event: &Event, frame: &Frame) -> (i32, i32) {
        let row = self.trace.at(event.time);
        frame.pixel(if row.feet == row.position { event.place } else { row.feet })
    }

    /// The scale, in the corner that least of the path runs through; below rather than above.
    fn draw_bar<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>, frame: &Frame, labels: &mut Labels) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let bar = frame.bar();
        let (w, h) = frame.size();
        let length = (bar * frame.scale) as i32;
        let path: Vec<_> = self.trace.rows.iter().map(|r| frame.pixel(r.feet)).collect();
        let taken = |(left, y): (i32, i32)| {
            let near =
                |p: &&(i32, i32)| (left - 30..left + length + 30).contains(&p.0) && (y - 50..y + 30).contains(&p.1);
            path.iter().filter(near).count()
        };
        let (sides, low) = ([frame.at.0 + w as i32 - 14 - length, frame.at.0 + 14], frame.at.1 + h as i32 - 12);
        let corners = [(sides[0], low), (sides[1], low), (sides[0], frame.at.1 + 28), (sides[1], frame.at.1 + 28)];
        let best = corners.into_iter().reduce(|best, next| if taken(next) < taken(best) { next } else { best });
        let (left, y) = best.unwrap_or(corners[0]);
        let right = left + length;
        labels.keep_clear((left - 8, y - 22), (right + 8, y + 7));
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

/// How hard a landing was, as a part of the hardest and in words, where it was hard enough to speak of.
fn hardness(event: &Event) -> Option<(f32, String)> {
    let EventKind::Landed { speed, hardness, .. } = event.kind else { return None };
    match hardness {
        soft if soft < SOFT => None,
        1.0 => Some((hardness, format!("{speed:.1} m/s: lethal"))),
        hard => Some((hardness, format!("{speed:.1} m/s: {:.0} % hard", hard * 100.0))),
    }
}
