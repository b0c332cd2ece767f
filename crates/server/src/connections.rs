//! Connections: so many at once, so many from one address, and none that stands still while it is written to.

use std::collections::HashMap;
use std::io;
use std::net::IpAddr;
use std::pin::Pin;
use std::sync::{Arc, Mutex, PoisonError};
use std::task::{Context, Poll};
use std::time::Duration;

use axum_server::accept::Accept;
use tokio::net::TcpStream;
use tokio_io_timeout::TimeoutStream;
use tower::Service;

/// So many connections from one address, but this machine: a proxy brings everybody from there, and a school is behind one.
const FROM_ONE_ADDRESS: usize = 256;
/// So many at once, or fewer where the system allows fewer open files.
const AT_ONCE: u64 = 8_000;
/// Open files that are for everything else.
const OTHER_FILES: u64 = 128;
/// Whoever takes nothing of an answer for so long is let go.
const WRITE_PAUSE: Duration = Duration::from_secs(30);

/// Lets connections in, as far as there is room.
#[derive(Clone, Debug)]
pub struct Connections {
    here: Arc<Mutex<HashMap<IpAddr, usize>>>,
    most: usize,
    proxy: Option<IpAddr>,
}

impl Connections {
    /// As many as this machine has room for; `proxy` brings everybody, as this machine's own does.
    #[must_use]
    pub fn new(proxy: Option<IpAddr>) -> Self {
        // As many open files as the system lets a program have; where it does not say, what is usual.
        let files = rlimit::increase_nofile_limit(AT_ONCE + OTHER_FILES).unwrap_or(1024);
        let most = usize::try_from(files.saturating_sub(OTHER_FILES).clamp(16, AT_ONCE)).unwrap_or(16);
        Self { here: Arc::default(), most, proxy }
    }
}

/// A place that a connection takes until it is closed.
#[derive(Debug)]
struct Place {
    here: Arc<Mutex<HashMap<IpAddr, usize>>>,
    address: IpAddr,
}

impl Drop for Place {
    fn drop(&mut self) {
        let mut here = self.here.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(count) = here.get_mut(&self.address) {
            *count -= 1;
            if *count == 0 {
                here.remove(&self.address);
            }
        }
    }
}

impl Connections {
    /// A place for a connection from this address, if there is one.
    fn place(&self, address: IpAddr) -> Option<Place> {
        let address = address.to_canonical();
        let mut here = self.here.lock().unwrap_or_else(PoisonError::into_inner);
        let all: usize = here.values().sum();
        let of_this = here.get(&address).copied().unwrap_or_default();
        let brings_others = address.is_loopback() || self.proxy == Some(address);
        if all >= self.most || (of_this >= FROM_ONE_ADDRESS && !brings_others) {
            return None;
        }
        here.insert(address, of_this + 1);
        Some(Place { here: self.here.clone(), address })
    }
}

impl<S> Accept<TcpStream, S> for Connections {
    type Stream = Pin<Box<TimeoutStream<TcpStream>>>;
    type Service = Placed<S>;
    type Future = std::future::Ready<io::Result<(Self::Stream, Self::Service)>>;

    fn accept(&self, stream: TcpStream, service: S) -> Self::Future {
        let full = || io::Error::other("no room for another connection");
        let accepted = stream.peer_addr().and_then(|peer| self.place(peer.ip()).ok_or_else(full)).and_then(|place| {
            stream.set_nodelay(true)?;
            let mut stream = TimeoutStream::new(stream);
            stream.set_write_timeout(Some(WRITE_PAUSE));
            Ok((Box::pin(stream), Placed { service, _place: Arc::new(place) }))
        });
        std::future::ready(accepted)
    }
}

/// The service of a connection that has its place.
#[derive(Clone, Debug)]
pub struct Placed<S> {
    service: S,
    _place: Arc<Place>,
}

impl<S: Service<R>, R> Service<R> for Placed<S> {
    type Response = S::Response;
    type Error = S::Error;
    type Future = S::Future;

    fn poll_ready(&mut self, cx: &mut Context<'_>) -> Poll<Result<(), Self::Error>> {
        self.service.poll_ready(cx)
    }

    fn call(&mut self, request: R) -> Self::Future {
        self.service.call(request)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn there_is_room_for_so_many_from_one_address_and_so_many_in_all() {
        let connections = Connections { here: Arc::default(), most: FROM_ONE_ADDRESS + 4, proxy: None };
        let place = |address: &str| connections.place(address.parse().expect("an address"));
        let one: Vec<Place> = (0..FROM_ONE_ADDRESS).map(|_| place("198.51.100.7").expect("a place")).collect();
        assert!(place("198.51.100.7").is_none(), "enough from one address");
        assert!(place("::ffff:198.51.100.7").is_none(), "the same by another name");
        let others: Vec<Place> = (0..4).map(|_| place("127.0.0.1").expect("a place")).collect();
        assert!(place("203.0.113.9").is_none(), "enough in all");
        drop(others);
        drop(one);
        assert!(place("198.51.100.7").is_some(), "places are given back");
        assert!(connections.here.lock().expect("a map").is_empty(), "and forgotten");
    }
}
