//! Walls: contacts in effect that constrain the velocity.

use glam::{DVec3, Vec3};

use crate::contact::closest::Feature;
use crate::contact::key::{KnownWalls, ObstacleKey};
use crate::contact::point::Contact;
use crate::contact::slide::Planes;
use crate::contact::surroundings::Surroundings;

/// The most that are kept; a character wedged among more holds still anyway.
const MOST: usize = 6;

/// Normals closer than this are one wall: facets that share the edge touched differ by less.
const ALIKE: f32 = 1e-5;

/// Contacts in effect: they were hit and still touch.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Walls {
    contacts: [Option<Contact>; MOST],
}

impl Walls {
    /// Remembers a wall that was hit. One known already, or another facet that touches from the very same direction,
    /// is brought up to date; where there is no room, the one met longest ago gives way.
    pub fn add(&mut self, contact: Contact) {
        let place = self.contacts.iter().position(|c| c.as_ref().is_none_or(|c| is_same(c, &contact)));
        if place.is_none() {
            self.contacts.rotate_left(1);
        }
        self.contacts[place.unwrap_or(MOST - 1)] = Some(contact);
    }

    /// Remembers a wall in the place of one that it goes on from.
    pub fn go_over(&mut self, was: &Contact, to: Contact) {
        let mut others = Walls::default();
        self.iter().filter(|c| !is_same(c, was)).for_each(|c| others.add(*c));
        others.add(to);
        *self = others;
    }

    /// True where the contact is with a wall that is known.
    pub fn knows(&self, contact: &Contact) -> bool {
        self.iter().any(|c| is_same(c, contact))
    }

    /// Forgets what no longer touches.
    pub fn refresh(&mut self, near: &Surroundings<'_>) {
        let reach = near.shape.touching();
        let mut kept = Walls::default();
        let still = self.iter().filter_map(|was| near.refreshed(was)).filter(|is| is.gap <= reach);
        still.for_each(|is| kept.add(is));
        *self = kept;
    }

    /// Of the walls that were known before those that still touch.
    pub fn recalled(known: &KnownWalls, near: &Surroundings<'_>) -> Walls {
        let mut walls = Walls::default();
        let keys = known.iter();
        let touched = keys.filter_map(|key| near.contact_named(*key)).filter(|c| c.gap <= near.shape.touching());
        touched.for_each(|contact| walls.add(contact));
        walls
    }

    /// Their names.
    pub fn known(&self) -> KnownWalls {
        KnownWalls::of(|i| self.contacts[i].map_or(ObstacleKey::default(), |contact| contact.key))
    }

    /// True where all of them still touch, and with their faces where they did, as far as can be known.
    pub fn go_on(&self, near: &Surroundings<'_>) -> bool {
        let reach = near.shape.touching();
        let goes_on = |was: &Contact, is: &Contact| {
            is.gap <= reach && (was.feature != Feature::Face || is.feature == Feature::Face)
        };
        self.iter().all(|was| near.refreshed(was).is_none_or(|is| goes_on(was, &is)))
    }

    /// The one that comes fastest of those that move.
    pub fn mover(&self) -> Option<Contact> {
        let speed = |c: &Contact| c.velocity.dot(c.normal.as_dvec3());
        self.iter().filter(|c| speed(c) > 0.0).copied().reduce(|a, b| if speed(&b) > speed(&a) { b } else { a })
    }

    /// All of them, in no order of meaning.
    pub fn iter(&self) -> impl Iterator<Item = &Contact> {
        self.contacts.iter().flatten()
    }

    /// True where one of them faces up: a slope too steep to stand on, or an edge one slips off.
    pub fn leaning(&self, up: Vec3) -> Option<&Contact> {
        self.iter().find(|c| c.normal.dot(up) > 1e-3)
    }

    /// The planes for flat velocity on ground with this normal that itself moves with `carried`: the motion that follows
    /// the ground enters no wall.
    ///
    /// Following the ground a flat velocity `w` rises by `-(w · g) / (g · up)`, so the part of a wall's normal that
    /// counts is its own flat part less that rise's share.
    pub fn on_ground(&self, ground: Vec3, up: Vec3, carried: DVec3) -> Planes {
        let mut planes = Planes::default();
        let (g, u) = (ground.as_dvec3(), up.as_dvec3());
        for contact in self.iter() {
            let n = contact.normal.as_dvec3();
            let lean = n.dot(u) / g.dot(u);
            let flat = (n - u * n.dot(u)) - (g - u * g.dot(u)) * lean;
            // Laid on a slope the flat velocity is shortened, at most by the slope's cosine.
            add_flat(&mut planes, flat, (contact.velocity - carried).dot(n) / g.dot(u), contact.lead / g.dot(u));
        }
        planes
    }

    /// The planes for velocity and acceleration in the air. A slope that is too steep is a wall to horizontal motion too, so that pushing into it never climbs.
    pub fn in_air(&self, up: Vec3) -> Planes {
        let mut planes = self.planes();
        self.leaning_flat(up).for_each(|(flat, velocity)| planes.add_moving(flat, velocity.dot(flat)));
        planes
    }

    /// The planes for motion that nothing pulls down.
    pub fn planes(&self) -> Planes {
        self.planes_against(DVec3::ZERO)
    }

    /// The same for motion against something that itself moves with `carried`.
    pub fn planes_against(&self, carried: DVec3) -> Planes {
        let mut planes = Planes::default();
        for contact in self.iter() {
            let n = contact.normal.as_dvec3();
            planes.add_moving(n, (contact.velocity - carried).dot(n) + contact.lead);
        }
        planes
    }

    /// The planes for motion across only, in the air: the flat part of every wall.
    pub fn across(&self, up: Vec3) -> Planes {
        self.across_of(up, |_| true)
    }

    /// The same for only some of them.
    pub fn across_of(&self, up: Vec3, counts: impl Fn(&Contact) -> bool) -> Planes {
        let mut planes = Planes::default();
        let u = up.as_dvec3();
        for contact in self.iter().filter(|c| counts(c)) {
            let n = contact.normal.as_dvec3();
            let flat = n - u * n.dot(u);
            add_flat(&mut planes, flat, contact.velocity.dot(flat), contact.lead);
        }
        planes
    }

    /// The flat directions away from what faces up but carries nothing, and how it moves.
    pub fn leaning_flat(&self, up: Vec3) -> impl Iterator<Item = (DVec3, DVec3)> {
        let u = up.as_dvec3();
        let leaning = self.iter().map(|c| (c.normal.as_dvec3(), c.velocity)).filter(move |(n, _)| n.dot(u) > 1e-3);
        let flat = leaning.map(move |(n, velocity)| (n - u * n.dot(u), velocity));
        flat.filter(|(f, _)| f.length() > 1e-4).map(|(f, velocity)| (f / f.length(), velocity))
    }
}

/// True for the same obstacle, or another facet that touches from the very same direction.
fn is_same(a: &Contact, b: &Contact) -> bool {
    let alike = (a.normal - b.normal).length_squared() < ALIKE * ALIKE;
    // A terrain may give one name to several: in one gather the places in it tell them apart.
    let is_one = if a.gathered == b.gathered { a.obstacle == b.obstacle } else { a.key == b.key };
    alike || is_one
}

/// Adds a plane square to up whose contact closes at `closing`, and pushes `lead` faster, both times the length of `flat`. Left out is one whose
/// flat part is only rounding, and one that comes down all but level: that pushes down, not aside. One that is all but level and does not
/// close is a wall like any other.
fn add_flat(planes: &mut Planes, flat: DVec3, closing: f64, lead: f64) {
    let length = flat.length();
    let is_level = length <= LEVEL;
    if length <= 1e-4 || is_level && closing > 0.0 {
        return;
    }
    let speed = if is_level { closing } else { closing + lead };
    planes.add_moving(flat / length, speed / length);
}

/// A moving surface whose normal is flat by less than this part does not push aside what it comes down on.
pub(crate) const LEVEL: f64 = 0.1;
