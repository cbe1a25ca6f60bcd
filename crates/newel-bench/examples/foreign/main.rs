//! A game that keeps its collision shapes in a geometry crate of its own choice: this much makes them terrain.
//!
//! `cargo run --release -p newel-bench --example foreign`

mod checked;

use newel::glam::{DQuat, DVec3, Vec3};
use newel::{Body, Facet, Patch, RayHit, Round, Terrain, When};
use parry3d::bounding_volume::{Aabb, BoundingVolume};
use parry3d::math::{Pose, Vector};
use parry3d::query::Ray;
use parry3d::shape::{SharedShape, TypedShape};

/// One of the game's things: a shape, where it is when the tick begins, and how it moves.
struct Thing {
    id: u64,
    shape: SharedShape,
    place: DVec3,
    turned: DQuat,
    velocity: DVec3,
    spin: DVec3,
}

/// All of them.
#[derive(Default)]
struct World {
    things: Vec<Thing>,
}

impl Thing {
    fn body(&self) -> Body {
        let (velocity, spin) = (self.velocity, self.spin);
        Body { orientation: self.turned, velocity, spin, ..Body::still(self.id, self.place) }
    }

    /// The box of the patch in its own axes, with room for how it moves in a tick and for how it is turned.
    fn asked(&self, dt: f64, (low, high): (DVec3, DVec3)) -> Aabb {
        let body = self.body();
        let (middle, mut half) = (0.5 * (low + high), 0.5 * (high - low).length());
        let far = (middle - self.place).length() + half;
        half += (self.velocity.length() + self.spin.length() * far) * dt;
        let middle = body.to_local(middle);
        Aabb::new(vector(middle - half), vector(middle + half))
    }

    /// Adds a shape that is at `pose` within the thing.
    fn add(&self, shape: TypedShape<'_>, pose: &Pose, asked: &Aabb, index: u16, next: &mut u32, patch: &mut Patch) {
        let body = self.body();
        let origin = patch.origin();
        let to_patch = |p: Vector| (body.to_world(vec(pose.transform_point(p))) - origin).as_vec3();
        let mut round = |a: Vector, b: Vector, radius: f32, patch: &mut Patch| {
            patch.add_round(Round { a: to_patch(a), b: to_patch(b), radius, surface: 0, body: index, id: *next });
            *next += 1;
        };
        let (points, triangles) = match shape {
            TypedShape::Ball(ball) => return round(Vector::ZERO, Vector::ZERO, ball.radius, patch),
            TypedShape::Capsule(c) => return round(c.segment.a, c.segment.b, c.radius, patch),
            TypedShape::Compound(compound) => {
                for (part, shape) in compound.shapes() {
                    self.add(shape.as_typed_shape(), &(*pose * *part), asked, index, next, patch);
                }
                return;
            }
            // A mesh has a tree of its own, and a number for each triangle.
            TypedShape::TriMesh(mesh) => {
                for id in mesh.bvh().intersect_aabb(asked) {
                    let t = mesh.triangle(id);
                    let facet = Facet::new(to_patch(t.a), to_patch(t.b), to_patch(t.c));
                    facet.into_iter().for_each(|f| patch.add_facet(Facet { body: index, id, ..f }));
                }
                return;
            }
            TypedShape::Cuboid(cuboid) => cuboid.to_trimesh(),
            TypedShape::ConvexPolyhedron(convex) => convex.to_trimesh(),
            _ => return,
        };
        for corners in triangles {
            let [a, b, c] = corners.map(|i| to_patch(points[i as usize]));
            let facet = Facet::new(a, b, c);
            facet.into_iter().for_each(|f| patch.add_facet(Facet { body: index, id: *next, ..f }));
            *next += 1;
        }
    }
}

impl Terrain for World {
    fn gather(&self, when: When, patch: &mut Patch) {
        for thing in &self.things {
            let asked = thing.asked(when.dt, patch.world_bounds());
            if thing.shape.compute_local_aabb().intersects(&asked) {
                let index = patch.add_body(thing.body());
                thing.add(thing.shape.as_typed_shape(), &Pose::IDENTITY, &asked, index, &mut 0, patch);
            }
        }
    }

    fn cast(&self, _when: When, from: DVec3, along: Vec3, length: f64) -> Option<RayHit> {
        let hits = self.things.iter().filter_map(|thing| {
            let body = thing.body();
            let (start, ahead) = (body.to_local(from), body.to_local(from + along.as_dvec3()));
            let ray = Ray::new(vector(start), vector(ahead - start));
            let hit = thing.shape.cast_local_ray_and_get_normal(&ray, length as f32, false)?;
            let normal = (body.to_world(vec(hit.normal)) - body.place).as_vec3();
            let distance = f64::from(hit.time_of_impact);
            Some(RayHit { distance, normal, surface: 0, body: thing.id, one_way: false })
        });
        hits.min_by(|a, b| a.distance.total_cmp(&b.distance))
    }
}

fn vec(v: Vector) -> DVec3 {
    DVec3::new(f64::from(v.x), f64::from(v.y), f64::from(v.z))
}

fn vector(v: DVec3) -> Vector {
    Vector::new(v.x as f32, v.y as f32, v.z as f32)
}

fn main() -> Result<(), Box<dyn std::error::Error>> {
    checked::all()
}
