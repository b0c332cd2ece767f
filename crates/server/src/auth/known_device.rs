//! A cookie by which a device that somebody has signed in from is known again. It signs nobody in: it gives the device its own
//! allowance of tries, so that whoever guesses at an address from elsewhere does not keep its owner out.

use axum::extract::FromRequestParts;
use axum::http::header::{COOKIE, HeaderValue};
use axum::http::request::Parts;
use bright_row_core::AccountId;
use bright_row_store::accounts::devices;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::error::ApiError;
use crate::state::App;

/// The name of the cookie.
const DEVICE_COOKIE: &str = "bright_row_device";
/// As long as browsers keep one.
const SECONDS: u32 = 400 * 24 * 3600;

/// The device of a request.
#[derive(Clone, Debug)]
pub struct Device {
    secret: Uuid,
    secure: bool,
}

impl FromRequestParts<App> for Device {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, ApiError> {
        let cookies = parts.headers.get_all(COOKIE).iter().filter_map(|cookie| cookie.to_str().ok());
        let pairs = cookies.flat_map(|cookie| cookie.split(';')).filter_map(|one| one.trim().split_once('='));
        let known = pairs.filter(|(name, _)| *name == DEVICE_COOKIE).find_map(|(_, value)| value.parse().ok());
        Ok(Self { secret: known.unwrap_or_else(Uuid::new_v4), secure: app.options.behind_tls })
    }
}

impl Device {
    /// What it is kept by.
    #[must_use]
    pub fn hash(&self) -> Vec<u8> {
        Sha256::digest(self.secret.as_bytes()).to_vec()
    }

    /// Whether somebody has signed in from it.
    pub async fn is_known(&self, app: &App, account: AccountId) -> Result<bool, ApiError> {
        Ok(devices::is_known(&app.sessions, account, &self.hash()).await?)
    }

    /// Notes that somebody signed in from it.
    pub async fn know(&self, app: &App, account: AccountId) -> Result<(), ApiError> {
        Ok(devices::know(&app.sessions, account, &self.hash(), app.now()).await?)
    }

    /// The header that keeps it.
    #[must_use]
    pub fn cookie(&self) -> HeaderValue {
        let secure = if self.secure { "; Secure" } else { "" };
        let cookie =
            format!("{DEVICE_COOKIE}={}; HttpOnly; SameSite=Strict; Path=/api; Max-Age={SECONDS}{secure}", self.secret);
        HeaderValue::from_str(&cookie).unwrap_or(HeaderValue::from_static(""))
    }
}
