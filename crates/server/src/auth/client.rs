//! Where a request comes from, as far as the application wants to know it: a network, whether it is this machine, what kind of
//! device.

use std::net::{IpAddr, Ipv4Addr, Ipv6Addr, SocketAddr};

use axum::extract::{ConnectInfo, FromRequestParts};
use axum::http::request::Parts;
use axum::http::{HeaderMap, header};

use crate::error::ApiError;
use crate::state::App;

/// Where a request comes from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Client {
    /// The address, as far as it is known; behind a proxy the one that the proxy saw.
    pub address: IpAddr,
    /// What kind of device, as people would say it: `Chrome on Android`.
    pub device: String,
}

impl Client {
    /// Whether it is this machine, and nobody through a proxy.
    #[must_use]
    pub const fn is_here(&self) -> bool {
        self.address.is_loopback()
    }

    /// Its network, without the part that tells one machine of it from another: `198.51.100.0`, `2001:db8:1::`.
    #[must_use]
    pub fn network(&self) -> IpAddr {
        match self.address {
            IpAddr::V4(address) => {
                let [a, b, c, _] = address.octets();
                Ipv4Addr::new(a, b, c, 0).into()
            }
            IpAddr::V6(address) => {
                let [a, b, c, ..] = address.segments();
                Ipv6Addr::new(a, b, c, 0, 0, 0, 0, 0).into()
            }
        }
    }

    /// From the connection and the headers. A proxy's word counts only where one is in front of the application: on this machine, or
    /// at the address of `proxy`.
    #[must_use]
    pub fn of(peer: Option<IpAddr>, headers: &HeaderMap, behind_tls: bool, proxy: Option<IpAddr>) -> Self {
        let peer = peer.unwrap_or(IpAddr::V4(Ipv4Addr::LOCALHOST)).to_canonical();
        let forwarded = || {
            // The last one was put there by the proxy itself.
            let last = headers.get_all("x-forwarded-for").iter().next_back()?.to_str().ok()?;
            last.rsplit(',').next()?.trim().parse::<IpAddr>().ok()
        };
        let through_proxy = behind_tls && (peer.is_loopback() || proxy == Some(peer));
        let address = if through_proxy {
            // Who is not named is somebody, and surely not this machine.
            forwarded().unwrap_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED))
        } else {
            peer
        };
        let agent = headers.get(header::USER_AGENT).and_then(|agent| agent.to_str().ok()).unwrap_or_default();
        Self { address: address.to_canonical(), device: device(agent) }
    }
}

impl FromRequestParts<App> for Client {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|info| info.0.ip());
        Ok(Self::of(peer, &parts.headers, app.options.behind_tls, app.options.proxy))
    }
}

/// The address that the one who asks reached this server by, `https://strings.school.example`; what is printed leads there and
/// nowhere else.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OwnAddress(pub String);

impl FromRequestParts<App> for OwnAddress {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let host = parts.headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default();
        let plain = |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | ':' | '[' | ']');
        if host.is_empty() || host.len() > 260 || !host.chars().all(plain) {
            let detail = "The request names no host".to_owned();
            return Err(ApiError::Malformed { status: axum::http::StatusCode::BAD_REQUEST, detail });
        }
        let scheme = if app.options.behind_tls { "https" } else { "http" };
        Ok(Self(format!("{scheme}://{host}")))
    }
}

/// What kind of device says so of itself.
fn device(agent: &str) -> String {
    let find =
        |known: &[(&str, &'static str)]| known.iter().find(|(part, _)| agent.contains(part)).map(|(_, name)| *name);
    let browser = find(&[
        ("Edg", "Edge"),
        ("OPR/", "Opera"),
        ("Firefox/", "Firefox"),
        ("FxiOS/", "Firefox"),
        ("CriOS/", "Chrome"),
        ("Chrome/", "Chrome"),
        ("Safari/", "Safari"),
    ]);
    let system = find(&[
        ("Android", "Android"),
        ("iPhone", "iPhone"),
        ("iPad", "iPad"),
        ("CrOS", "Chromebook"),
        ("Windows", "Windows"),
        ("Mac OS X", "Mac"),
        ("Linux", "Linux"),
    ]);
    match (browser, system) {
        (Some(browser), Some(system)) => format!("{browser} on {system}"),
        (Some(one), None) | (None, Some(one)) => one.to_owned(),
        (None, None) => "Another program".to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn client(peer: &str, forwarded: Option<&str>, behind_tls: bool) -> Client {
        let mut headers = HeaderMap::new();
        if let Some(forwarded) = forwarded {
            headers.insert("x-forwarded-for", forwarded.parse().expect("a header"));
        }
        let proxy = Some("172.30.87.1".parse().expect("an address"));
        Client::of(Some(peer.parse().expect("an address")), &headers, behind_tls, proxy)
    }

    #[test]
    fn a_proxys_word_counts_only_where_there_is_one() {
        let seen = |client: Client| (client.address.to_string(), client.network().to_string(), client.is_here());
        assert_eq!(seen(client("127.0.0.1", None, false)), ("127.0.0.1".into(), "127.0.0.0".into(), true));
        assert_eq!(
            seen(client("127.0.0.1", Some("10.1.1.1, 198.51.100.7"), true)),
            ("198.51.100.7".into(), "198.51.100.0".into(), false)
        );
        assert!(!client("127.0.0.1", None, true).is_here(), "a proxy that names nobody is not this machine");
        assert!(!client("198.51.100.7", Some("127.0.0.1"), false).is_here(), "nobody else's word counts");
        assert_eq!(
            seen(client("172.30.87.1", Some("198.51.100.7"), true)).0,
            "198.51.100.7",
            "a proxy beside this machine"
        );
        assert_eq!(seen(client("172.30.87.2", Some("198.51.100.7"), true)).0, "172.30.87.2", "and nobody else there");
        assert!(client("::ffff:127.0.0.1", None, false).is_here());
        assert_eq!(seen(client("2001:db8:1:2::7", None, false)).1, "2001:db8:1::");
    }

    #[test]
    fn a_device_is_named_as_people_would() {
        let chrome =
            "Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0 Mobile Safari/537.36";
        assert_eq!(device(chrome), "Chrome on Android");
        assert_eq!(device("Mozilla/5.0 (iPad; CPU OS 17_0) Version/17.0 Safari/604.1"), "Safari on iPad");
        assert_eq!(device("curl/8"), "Another program");
    }
}
