//! The picture of one tick: what it saw and touched, from the side and from above, in centimetres.

use newel::glam::DVec3;
use newel::{Form, Seen, SeenContact, SeenFacet, Support};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::coord::types::RangedCoordf64;
use plotters::prelude::*;

use super::Format;
use super::canvas::{AIR, Drawn, FAINT, GROUND, INK, Inset, LINE, PAPER, Sheet, font, render};
use crate::explained::Explained;

type Chart<'a, DB> = ChartContext<'a, DB, Cartesian2d<RangedCoordf64, RangedCoordf64>>;

/// Where things are on the sheet: left, top, width, height, pixels.
const SIDE: (i32, i32, u32, u32) = (14, 44, 660, 560);
const PLAN: (i32, i32, u32, u32) = (690, 44, 576, 560);
const WORDS: (i32, i32) = (24, 616);
/// Lines of words that fit, and letters of a line.
const LINES: usize = 9;
const LETTERS: usize = 172;

/// Geometry in the section.
const SOLID: RGBColor = RGBColor(94, 82, 66);
/// Facets touched.
const TOUCHED: RGBColor = RGBColor(236, 196, 120);

/// Draws one explained tick.
///
/// # Errors
/// Only where a drawing backend fails.
pub fn tick_sheet(explained: &Explained<'_>, format: Format) -> Result<Vec<u8>, Box<dyn std::error::Error>> {
    render(&TickSheet::new(explained), format)
}

/// One flat look at the scene: centimetres along two directions from the feet before the tick.
struct View {
    name: &'static str,
    right: DVec3,
    up: DVec3,
    labels: (&'static str, &'static str),
    /// The ranges shown, centimetres.
    x: (f64, f64),
    y: (f64, f64),
}

struct TickSheet<'a> {
    explained: &'a Explained<'a>,
    facets: Vec<SeenFacet>,
    contacts: Vec<(SeenContact, Option<Support>)>,
    origin: DVec3,
    views: [View; 2],
}

impl<'a> TickSheet<'a> {
    fn new(explained: &'a Explained<'a>) -> TickSheet<'a> {
        let (before, after) = (&explained.before, &explained.after);
        let up = before.up.as_dvec3();
        let flat = |v: DVec3| v - up * v.dot(up);
        // Along the way it goes, or wants to, or looks.
        let heading = explained.intent.wish(before, &explained.course.tuning).as_dvec3();
        let ways = [flat(after.position - before.position), flat(heading), before.facing.as_dvec3()];
        let ahead = ways.into_iter().find(|w| w.length() > 1e-4).unwrap_or(DVec3::X);
        let ahead = ahead / ahead.length();
        let shape = explained.course.tuning.shape_in(before.stance);
        let (height, radius) = (f64::from(shape.height) * 100.0, f64::from(shape.radius) * 100.0);
        let side = fitted((SIDE.2, SIDE.3), (radius * 2.0, height * 1.3), (radius * 0.4, height * 0.46));
        let plan = fitted((PLAN.2, PLAN.3), (radius * 3.2, radius * 3.2), (0.0, 0.0));
        let views = [
            View {
                name: "from the side, cut along the way",
                right: ahead,
                up,
                labels: ("along the way, cm", "up, cm"),
                x: side.0,
                y: side.1,
            },
            View {
                name: "from above",
                right: ahead,
                up: up.cross(ahead),
                labels: ("along the way, cm", "to the left, cm"),
                x: plan.0,
                y: plan.1,
            },
        ];
        let mut sheet =
            TickSheet { explained, facets: Vec::new(), contacts: Vec::new(), origin: before.position, views };
        sheet.collect();
        sheet
    }

    /// The facets of the largest gather, and every obstacle that was touched, once.
    fn collect(&mut self) {
        let mut add = |contact: SeenContact, support: Option<Support>| {
            let same = |c: &(SeenContact, Option<Support>)| c.0.body == contact.body && c.0.id == contact.id;
            match self.contacts.iter_mut().find(|c| same(c)) {
                Some(known) => *known = (contact, support.or(known.1)),
                None => self.contacts.push((contact, support)),
            }
        };
        for note in &self.explained.notes {
            match &note.seen {
                Seen::Gathered { facets, .. } if facets.len() > self.facets.len() => self.facets.clone_from(facets),
                Seen::Judged { contacts, .. } => contacts.iter().for_each(|(c, s)| add(*c, *s)),
                Seen::Moved { stopped: Some(c), .. } => add(*c, None),
                Seen::Step { met, .. } => add(*met, None),
                _ => {}
            }
        }
    }
}

/// Ranges about a middle, centimetres, at one scale both ways: at least as large as asked for.
fn fitted(pixels: (u32, u32), least: (f64, f64), middle: (f64, f64)) -> ((f64, f64), (f64, f64)) {
    // Less the axes and their labels.
    let (w, h) = (f64::from(pixels.0) - 70.0, f64::from(pixels.1) - 74.0);
    let scale = (least.0 / w).max(least.1 / h);
    let (x, y) = (scale * w / 2.0, scale * h / 2.0);
    ((middle.0 - x, middle.0 + x), (middle.1 - y, middle.1 + y))
}

impl Sheet for TickSheet<'_> {
    fn insets(&self) -> &[Inset] {
        &[]
    }

    fn draw<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        root.fill(&PAPER)?;
        let title =
            format!("{}, tick {} at {:.3} s", self.explained.course.title, self.explained.tick, self.explained.start());
        root.draw(&Text::new(title, (20, 12), ("sans-serif", 22.0, FontStyle::Bold).into_font().color(&INK)))?;
        for (view, (x, y, w, h)) in self.views.iter().zip([SIDE, PLAN]) {
            self.draw_view(&root.clone().shrink((x, y), (w, h)), view)?;
        }
        self.draw_key(root)?;
        self.draw_words(root)
    }
}

impl TickSheet<'_> {
    fn draw_view<DB: DrawingBackend>(&self, area: &DrawingArea<DB, Shift>, view: &View) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let mut chart = ChartBuilder::on(area)
            .margin_top(24)
            .margin_right(12)
            .x_label_area_size(38)
            .y_label_area_size(58)
            .build_cartesian_2d(view.x.0..view.x.1, view.y.0..view.y.1)?;
        chart
            .configure_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(LINE)
            .axis_style(INK)
            .x_desc(view.labels.0)
            .y_desc(view.labels.1)
            .x_label_formatter(&|x| format!("{x:.0}"))
            .y_label_formatter(&|y| format!("{y:.0}"))
            .label_style(font(12.0))
            .axis_desc_style(font(13.0))
            .draw()?;
        area.draw(&Text::new(view.name, (60, 4), font(13.0)))?;
        self.draw_facets(&mut chart, view)?;
        self.draw_character(&mut chart, view)?;
        self.draw_contacts(&mut chart, view)
    }

    fn draw_facets<DB: DrawingBackend>(&self, chart: &mut Chart<'_, DB>, view: &View) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let touched = |f: &&SeenFacet| self.contacts.iter().any(|(c, _)| !c.round && c.body == f.body && c.id == f.id);
        for facet in self.facets.iter().filter(touched) {
            let corners: Vec<_> = facet.corners.iter().map(|c| view.flat(*c - self.origin)).collect();
            let inside = clip_polygon(&corners, view);
            if inside.len() > 2 {
                chart.plotting_area().draw(&Polygon::new(inside, TOUCHED.mix(0.55).filled()))?;
            }
        }
        for facet in &self.facets {
            let [a, b, c] = facet.corners.map(|c| view.flat(c - self.origin));
            for (from, to) in [(a, b), (b, c), (c, a)] {
                line(chart, view, from, to, FAINT.mix(0.45).stroke_width(1))?;
            }
        }
        // Geometry in the section plane, from the side.
        if view.up == self.views[0].up {
            for facet in &self.facets {
                if let Some((from, to)) = cut(facet, self.origin, view) {
                    line(chart, view, from, to, SOLID.stroke_width(4))?;
                }
            }
        }
        Ok(())
    }

    fn draw_character<DB: DrawingBackend>(&self, chart: &mut Chart<'_, DB>, view: &View) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        for (feet, style) in [
            (self.explained.before.position, GROUND.mix(0.45).stroke_width(1)),
            (self.explained.after.position, GROUND.stroke_width(2)),
        ] {
            let middle = view.flat(feet - self.origin);
            for pair in self.outline(view, middle).windows(2) {
                line(chart, view, pair[0], pair[1], style)?;
            }
        }
        Ok(())
    }

    /// The outline of the shape about its feet, centimetres, closed.
    fn outline(&self, view: &View, (x, y): (f64, f64)) -> Vec<(f64, f64)> {
        let shape = self.explained.course.tuning.shape_in(self.explained.after.stance);
        let (radius, height) = (f64::from(shape.radius) * 100.0, f64::from(shape.height) * 100.0);
        let upright = view.up == self.views[0].up;
        if shape.form == Form::Box {
            let (low, high) = if upright { (0.0, height) } else { (-radius, radius) };
            return [(-radius, low), (radius, low), (radius, high), (-radius, high), (-radius, low)]
                .map(|(dx, dy)| (x + dx, y + dy))
                .to_vec();
        }
        let straight = if upright { height - 2.0 * radius } else { 0.0 };
        let low = if upright { radius } else { 0.0 };
        (0..=96)
            .map(|i| {
                let angle = std::f64::consts::TAU * f64::from(i) / 96.0;
                let rise = if angle.sin() > 0.0 { straight } else { 0.0 };
                (x + radius * angle.cos(), y + low + rise + radius * angle.sin())
            })
            .collect()
    }

    fn draw_contacts<DB: DrawingBackend>(&self, chart: &mut Chart<'_, DB>, view: &View) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let arrow = (view.x.1 - view.x.0) * 0.09;
        for (number, (contact, support)) in self.contacts.iter().enumerate() {
            let at = view.flat(contact.point - self.origin);
            let (nx, ny) = (contact.normal.as_dvec3().dot(view.right), contact.normal.as_dvec3().dot(view.up));
            let colour = if support.is_some_and(Support::is_firm) { GROUND } else { AIR };
            line(chart, view, at, (at.0 + nx * arrow, at.1 + ny * arrow), colour.stroke_width(2))?;
            if view.holds(at) {
                chart.plotting_area().draw(&Circle::new(at, 4, colour.filled()))?;
                // Labels fan out to the lower right, so that touches at one point can be told apart.
                let down = chart.plotting_area().map_coordinate(&at);
                let label = format!("{}", contact.id);
                let at = (down.0 + 10, down.1 + 4 + 13 * number as i32);
                let area = chart.plotting_area().strip_coord_spec();
                let (base_x, base_y) = area.get_base_pixel();
                for (dx, dy) in [(-1, 0), (1, 0), (0, -1), (0, 1)] {
                    area.draw(&Text::new(
                        label.clone(),
                        (at.0 + dx - base_x, at.1 + dy - base_y),
                        font(12.0).color(&PAPER),
                    ))?;
                }
                area.draw(&Text::new(label, (at.0 - base_x, at.1 - base_y), font(12.0).color(&colour)))?;
            }
        }
        Ok(())
    }

    fn draw_key<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let y = 22;
        let mut x = 560;
        let mut entry = |name: &str, style: ShapeStyle, width: i32| -> Drawn {
            root.draw(&PathElement::new(vec![(x, y), (x + 26, y)], style))?;
            root.draw(&Text::new(name.to_owned(), (x + 32, y - 8), font(12.5)))?;
            x += width;
            Ok(())
        };
        entry("before", GROUND.mix(0.45).stroke_width(1), 88)?;
        entry("after", GROUND.stroke_width(2), 76)?;
        entry("cut through", SOLID.stroke_width(4), 116)?;
        entry("facet touched", TOUCHED.stroke_width(9), 128)?;
        entry("carries, with its normal", GROUND.stroke_width(2), 186)?;
        entry("does not", AIR.stroke_width(2), 90)
    }

    fn draw_words<DB: DrawingBackend>(&self, root: &DrawingArea<DB, Shift>) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let lines = self.explained.lines();
        let spare = lines.len().saturating_sub(LINES);
        let (x, y) = WORDS;
        for (row, (time, text)) in lines.iter().take(LINES).enumerate() {
            let down = y + 16 * row as i32;
            root.draw(&Text::new(format!("{time:.3} ms"), (x, down), font(11.5).color(&FAINT)))?;
            root.draw(&Text::new(shortened(text.trim_start()), (x + 76, down), font(11.5)))?;
        }
        let down = y + 16 * LINES as i32;
        let lines = if spare == 1 { "line" } else { "lines" };
        let more =
            if spare > 0 { format!("(and {spare} more {lines}, told by `newel explain`)   ") } else { String::new() };
        root.draw(&Text::new(format!("{more}at the end: {}", self.explained.ground_words()), (x, down), font(12.5)))?;
        Ok(())
    }
}

fn shortened(text: &str) -> String {
    if text.chars().count() <= LETTERS {
        return text.to_owned();
    }
    text.chars().take(LETTERS - 1).chain(['…']).collect()
}

impl View {
    /// A point given from the origin, centimetres in the view.
    fn flat(&self, off: DVec3) -> (f64, f64) {
        (off.dot(self.right) * 100.0, off.dot(self.up) * 100.0)
    }

    fn holds(&self, (x, y): (f64, f64)) -> bool {
        (self.x.0..=self.x.1).contains(&x) && (self.y.0..=self.y.1).contains(&y)
    }
}

/// Draws the part of a line that is in view.
fn line<DB: DrawingBackend>(
    chart: &mut Chart<'_, DB>,
    view: &View,
    from: (f64, f64),
    to: (f64, f64),
    style: ShapeStyle,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    // Liang and Barsky, 1984.
    let (dx, dy) = (to.0 - from.0, to.1 - from.1);
    let (mut start, mut end) = (0.0f64, 1.0f64);
    for (way, room) in
        [(-dx, from.0 - view.x.0), (dx, view.x.1 - from.0), (-dy, from.1 - view.y.0), (dy, view.y.1 - from.1)]
    {
        if way < 0.0 {
            start = start.max(room / way);
        } else if way > 0.0 {
            end = end.min(room / way);
        } else if room < 0.0 {
            return Ok(());
        }
    }
    if start < end {
        let at = |t: f64| (from.0 + dx * t, from.1 + dy * t);
        chart.plotting_area().draw(&PathElement::new(vec![at(start), at(end)], style))?;
    }
    Ok(())
}

/// The part of a polygon that is in view (Sutherland and Hodgman, 1974).
fn clip_polygon(corners: &[(f64, f64)], view: &View) -> Vec<(f64, f64)> {
    let sides: [(f64, f64, f64); 4] =
        [(1.0, 0.0, -view.x.0), (-1.0, 0.0, view.x.1), (0.0, 1.0, -view.y.0), (0.0, -1.0, view.y.1)];
    sides.iter().fold(corners.to_vec(), |polygon, (a, b, c)| {
        let height = |p: (f64, f64)| a * p.0 + b * p.1 + c;
        let mut kept = Vec::new();
        for (i, &p) in polygon.iter().enumerate() {
            let q = polygon[(i + 1) % polygon.len()];
            let (hp, hq) = (height(p), height(q));
            if hp >= 0.0 {
                kept.push(p);
            }
            if hp * hq < 0.0 {
                let t = hp / (hp - hq);
                kept.push((p.0 + (q.0 - p.0) * t, p.1 + (q.1 - p.1) * t));
            }
        }
        kept
    })
}

/// Where the upright plane of a view through the feet cuts a facet.
fn cut(facet: &SeenFacet, origin: DVec3, view: &View) -> Option<((f64, f64), (f64, f64))> {
    let across = view.right.cross(view.up);
    let corners = facet.corners.map(|c| c - origin);
    let mut ends = Vec::new();
    for i in 0..3 {
        let (p, q) = (corners[i], corners[(i + 1) % 3]);
        let (hp, hq) = (p.dot(across), q.dot(across));
        if (hp < 0.0) != (hq < 0.0) {
            ends.push(view.flat(p + (q - p) * (hp / (hp - hq))));
        }
    }
    (ends.len() == 2).then(|| (ends[0], ends[1]))
}
