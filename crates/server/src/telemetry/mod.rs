//! What an operator reads: logs with a request's id, measurements for Prometheus, and traces for a collector. None of it has names,
//! addresses or ids of people.

pub mod logging;
pub mod metrics;
pub mod requests;
