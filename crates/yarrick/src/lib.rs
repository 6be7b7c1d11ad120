//! stub
pub mod geom;
pub mod ground;
pub mod motion;
pub mod near;
pub mod rng;
pub mod route;
pub mod select;
pub mod world;
