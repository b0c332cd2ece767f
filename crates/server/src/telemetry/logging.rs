//! Where log lines and traces go. To be begun once a process, before anything else.

use clap::ValueEnum;
use opentelemetry::trace::TracerProvider;
use opentelemetry_otlp::{SpanExporter, WithExportConfig};
use opentelemetry_sdk::Resource;
use opentelemetry_sdk::trace::SdkTracerProvider;
use tracing_subscriber::layer::SubscriberExt;
use tracing_subscriber::util::SubscriberInitExt;
use tracing_subscriber::{EnvFilter, Layer};

use crate::failure::Failure;

/// What is logged where `RUST_LOG` says nothing.
const USUAL: &str = "warn,bright_row=info,sqlx=error";

/// What a log line looks like.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, ValueEnum)]
pub enum LogFormat {
    /// For people.
    #[default]
    Text,
    /// One JSON object a line, for programs.
    Json,
}

/// Sends what is left of the traces when it is dropped.
#[derive(Debug)]
pub struct Telemetry(Option<SdkTracerProvider>);

impl Drop for Telemetry {
    fn drop(&mut self) {
        if let Some(provider) = &self.0
            && let Err(error) = provider.shutdown()
        {
            eprintln!("Some traces did not reach the collector: {error}.");
        }
    }
}

/// Begins to log to standard error, and to send traces to `collector` (OTLP over HTTP) where one is given.
///
/// # Errors
/// [`Failure::Collector`].
pub fn begin(format: LogFormat, collector: Option<&str>) -> Result<Telemetry, Failure> {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new(USUAL));
    let lines = tracing_subscriber::fmt::layer().with_writer(std::io::stderr).with_target(false);
    let lines = match format {
        LogFormat::Text => lines.boxed(),
        LogFormat::Json => lines.json().flatten_event(true).with_span_list(false).boxed(),
    };
    let provider = collector.map(provider).transpose()?;
    let traces = provider.as_ref().map(|provider| {
        // What the exporter itself says would be sent again and again.
        let own = EnvFilter::new("off,bright_row=info");
        tracing_opentelemetry::layer().with_tracer(provider.tracer("bright-row")).with_filter(own)
    });
    tracing_subscriber::registry().with(traces).with(lines.with_filter(filter)).init();
    Ok(Telemetry(provider))
}

fn provider(collector: &str) -> Result<SdkTracerProvider, Failure> {
    if !collector.starts_with("http://") {
        return Err(Failure::Collector(
            "it must begin with http:// (put a collector of your own beside it)".to_owned(),
        ));
    }
    let address = format!("{}/v1/traces", collector.trim_end_matches('/'));
    let exporter = SpanExporter::builder().with_http().with_endpoint(address).build();
    let exporter = exporter.map_err(|error| Failure::Collector(error.to_string()))?;
    let resource = Resource::builder().with_service_name("bright-row").build();
    Ok(SdkTracerProvider::builder().with_batch_exporter(exporter).with_resource(resource).build())
}
