//! What is done with bytes of any kind: nothing may panic, no number may stop being finite, nothing may be entered.
//!
//! Shared by the fuzz targets and by the test that replays their corpora.

use newel::glam::{DVec3, Vec3};
use newel::{
    Button, Character, Climb, Command, Face, Heading, Hold, Intent, Launch, Ledge, Mesh, Modifiers, Spawn, Stance,
    Terrain, Tick, Tuning, TuningValues, Vault, When, Workspace,
};

/// Bytes read as numbers, for as long as there are any.
struct Bytes<'a>(&'a [u8]);

impl Bytes<'_> {
    fn next<const N: usize>(&mut self) -> Option<[u8; N]> {
        let (first, rest) = self.0.split_first_chunk::<N>()?;
        self.0 = rest;
        Some(*first)
    }

    /// From -1 to 1, coarsely: bytes that agree make corners that meet.
    fn part(&mut self) -> Option<f64> {
        Some(f64::from(i8::from_le_bytes(self.next()?)) / 127.0)
    }

    fn point(&mut self, reach: f64) -> Option<DVec3> {
        Some(DVec3::new(self.part()?, self.part()?, self.part()?) * reach)
    }
}

/// A mesh of any numbers at all: refused, or usable.
pub fn mesh(bytes: &[u8]) {
    let mut bytes = Bytes(bytes);
    let Some([count]) = bytes.next() else { return };
    let mut vertices = Vec::new();
    for _ in 0..count % 64 {
        let mut coordinate = || Some(f32::from_le_bytes(bytes.next()?));
        let (Some(x), Some(y), Some(z)) = (coordinate(), coordinate(), coordinate()) else { break };
        vertices.push([x, y, z]);
    }
    let mut indices = Vec::new();
    while let Some([index]) = bytes.next() {
        indices.push(u32::from(index) % (vertices.len() as u32 + 1));
    }
    indices.truncate(indices.len() / 3 * 3);
    let Ok(mesh) = Mesh::new(&vertices, &indices) else { return };
    let (low, high) = mesh.bounds();
    assert!(low.is_finite() && high.is_finite());
    let hit = mesh.cast(When::tick(0, 0.1), high + DVec3::Y, Vec3::NEG_Y, 100.0);
    assert!(hit.is_none_or(|h| h.distance.is_finite() && h.normal.is_finite()));
    let Ok(mut hero) = Character::spawn(&mesh, &Tuning::walker(), high + DVec3::Y * 0.1) else { return };
    let (tuning, modifiers, mut work) = (Tuning::walker(), Modifiers::default(), Workspace::new());
    for number in 0..30 {
        let tick = Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt: 1.0 / 30.0 };
        tick.step(&mut work, &mut hero, &Intent::toward(Vec3::X), &[]).expect("a valid tick");
        assert!(hero.position.is_finite() && hero.velocity.is_finite());
    }
}

/// A soup of triangles, and a character thrown and driven about in it.
pub fn tick(bytes: &[u8]) {
    let mut bytes = Bytes(bytes);
    let Some([count, kind]) = bytes.next() else { return };
    let mut corners: Vec<DVec3> = Vec::new();
    for _ in 0..count % 48 {
        let (Some(a), Some(b), Some(c)) = (bytes.point(6.0), bytes.point(2.0), bytes.point(2.0)) else { break };
        corners.extend([a, a + b, a + c]);
    }
    corners.extend([DVec3::new(-40.0, -6.0, -40.0), DVec3::new(0.0, -6.0, 60.0), DVec3::new(40.0, -6.0, -40.0)]);
    let points: Vec<[f64; 3]> = corners.iter().map(|c| c.to_array()).collect();
    let indices: Vec<u32> = (0..corners.len() as u32).collect();
    let Ok(mesh) = Mesh::new(&points, &indices) else { return };
    let preset = usize::from(kind & 1) + 2 * usize::from(kind >> 4 & 1) + usize::from(kind >> 5 & 1);
    let tuning = Tuning::preset(Tuning::PRESETS[preset]).expect("a preset");
    // Some climb everything there is.
    let hands = count & 64 != 0;
    let climber = TuningValues { climb: Some(Climb::default()), ledge: Some(Ledge::default()), ..*tuning.values() };
    let climber = Tuning::new(TuningValues { vault: Some(Vault::default()), ..climber });
    let (tuning, mesh) = match climber {
        Ok(climber) if hands => (climber, mesh.with_hold(0, Hold::Wall)),
        _ => (tuning, mesh),
    };
    let mut spawn = Spawn::at([0.0, 7.0, 0.0]);
    if kind & 2 != 0 {
        spawn = spawn.in_plane(Vec3::Z);
    }
    let dt = [1.0 / 15.0, 1.0 / 60.0, 1.0 / 240.0, 0.1][usize::from(kind >> 2 & 3)];
    let Ok(mut hero) = Character::spawn(&mesh, &tuning, spawn) else { return };
    let (modifiers, mut work, mut number) = (Modifiers::default(), Workspace::new(), 0);
    let mut over_floor = true;
    while let (Some([what]), Some(way)) = (bytes.next(), bytes.point(1.0)) {
        let stick = (way.as_vec3() * 1.5).truncate();
        let mut intent = match kind >> 6 {
            0 => Intent::toward(way.as_vec3() * 1.5),
            1 if hands => Intent::new(Heading::Surface(stick)),
            1 => Intent::new(Heading::TurnAndGo(stick)),
            2 => Intent::new(Heading::Body(stick)),
            _ => Intent::new(Heading::Plane(stick)).facing(Face::Point(way * 20.0)),
        };
        for (bit, button) in
            [(1, Button::Jump), (2, Button::Dash), (16, Button::Sprint), (64, Button::Slide), (32, Button::Grab)]
        {
            if what & bit != 0 {
                intent = intent.hold(button);
            }
        }
        intent = intent.in_stance(Stance::ALL[usize::from(what >> 5) % 3]);
        let thrown = Command::Launch(Launch { adds: [what & 2 != 0; 3], ..Launch::at(way * f64::from(what)) });
        let moved = Command::Displace { by: way };
        let commands = match what & 12 {
            12 => &[thrown][..],
            8 => &[moved][..],
            _ => &[],
        };
        for _ in 0..1 + what / 32 {
            let tick = Tick { number, terrain: &mesh, tuning: &tuning, modifiers: &modifiers, dt };
            tick.step(&mut work, &mut hero, &intent, commands).expect("a valid tick");
            number += 1;
            assert!(hero.position.is_finite() && hero.velocity.is_finite() && hero.facing.is_finite());
            // Once over the rim of the floor it may come back under it.
            over_floor &= hero.position.x.abs() < 12.0 && hero.position.z.abs() < 20.0;
            assert!(hero.position.y > -6.1 || !over_floor, "through the floor: {hero:?}");
        }
    }
}

/// A course file of any text: refused with a reason, or read.
pub fn course(bytes: &[u8]) {
    let text = String::from_utf8_lossy(bytes).into_owned();
    if let Err(error) = newel_lab::Course::from_text("fuzzed.toml", text) {
        assert!(!error.to_string().is_empty());
    }
}
