//! Makes `demo/meshes/gull-rock.glb`: the islet of Gull Rock with its lighthouse, slipway, jetty and skerry, from a fixed seed.
//!
//! `cargo run -p newel-lab --example gull_rock -- demo/meshes/gull-rock.glb`

mod build;
mod glb;
mod land;
mod works;

use std::path::PathBuf;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let file = std::env::args().nth(1).map_or_else(|| PathBuf::from("demo/meshes/gull-rock.glb"), PathBuf::from);
    let mut islet = build::Build::default();
    land::add_land(&mut islet);
    land::add_boulders(&mut islet);
    works::add_slipway(&mut islet);
    works::add_jetty(&mut islet);
    works::add_skerry_steps(&mut islet);
    works::add_beacon(&mut islet);
    works::add_lighthouse(&mut islet);
    works::add_cottage(&mut islet);
    works::add_garden_wall(&mut islet);
    let bytes = glb::to_bytes(&islet)?;
    newel_lab::write_whole(&file, &bytes)?;
    println!("{}: {} triangles, {} kB", file.display(), islet.triangles(), bytes.len() / 1024);
    Ok(())
}
