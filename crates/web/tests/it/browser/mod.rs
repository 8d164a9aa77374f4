//! A browser without a screen: cookies, tokens and forms against the routes, in process.

use crate::support::Fresh;
use axum::Router;
use axum::body::Body;
use axum::http::{Request, Response, StatusCode, header};
use http_body_util::BodyExt as _;
use ironseat_web::{App, router};
use tower::ServiceExt as _;

pub struct Browser {
    pub app: Router,
    pub cookie: String,
    pub csrf: String,
}

pub struct Answer {
    pub status: StatusCode,
    pub headers: axum::http::HeaderMap,
    pub body: String,
}

/// A page without the line breaks and indents that its template has for the eye.
fn on_one_line(page: &str) -> String {
    if !page.trim_start().starts_with('<') {
        return page.to_owned();
    }
    let mut out = String::with_capacity(page.len());
    for line in page.lines().map(str::trim).filter(|l| !l.is_empty()) {
        let apart = !out.is_empty() && !out.ends_with('>') && !line.starts_with(['<', '>', '/']);
        out.push_str(if apart { " " } else { "" });
        out.push_str(line);
    }
    out.replace(" />", ">").replace(" </", "</")
}

impl Answer {
    pub async fn of(r: Response<Body>) -> Self {
        let (parts, body) = r.into_parts();
        Self {
            status: parts.status,
            headers: parts.headers,
            body: on_one_line(&String::from_utf8_lossy(&body.collect().await.unwrap().to_bytes())),
        }
    }
    /// The value that stands after these marks, each looked for behind the one before.
    pub fn value(&self, marks: &[&str]) -> String {
        let rest =
            marks.iter().fold(self.body.as_str(), |rest, m| rest.split_once(m).unwrap_or_else(|| panic!("no {m}")).1);
        rest.split_once("value=\"").unwrap().1.split('"').next().unwrap().to_owned()
    }
    pub fn location(&self) -> &str {
        self.headers.get(header::LOCATION).map_or("", |v| v.to_str().unwrap())
    }
}

impl Browser {
    pub fn new(app: &Router) -> Self {
        Self { app: app.clone(), cookie: String::new(), csrf: String::new() }
    }

    pub async fn send(&mut self, request: axum::http::request::Builder, body: String) -> Answer {
        let r = request
            .header(header::HOST, "127.0.0.1:4310")
            .header(header::COOKIE, &self.cookie)
            .body(Body::from(body))
            .unwrap();
        let a = Answer::of(self.app.clone().oneshot(r).await.unwrap()).await;
        if let Some(c) = a.headers.get(header::SET_COOKIE) {
            self.cookie = c.to_str().unwrap().split(';').next().unwrap().to_owned();
        }
        a
    }
    pub async fn get(&mut self, path: &str) -> Answer {
        self.send(Request::get(path), String::new()).await
    }
    pub async fn post_raw(&mut self, path: &str, body: &str) -> Answer {
        self.send(
            Request::post(path)
                .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
                .header(header::ORIGIN, "http://127.0.0.1:4310"),
            body.to_owned(),
        )
        .await
    }
    /// A form with a file, boundary `quay`.
    pub async fn upload(&mut self, path: &str, body: Vec<u8>) -> Answer {
        let r = Request::post(path)
            .header(header::CONTENT_TYPE, "multipart/form-data; boundary=quay")
            .header(header::ORIGIN, "http://127.0.0.1:4310")
            .header(header::HOST, "127.0.0.1:4310")
            .header(header::COOKIE, &self.cookie)
            .body(Body::from(body))
            .unwrap();
        Answer::of(self.app.clone().oneshot(r).await.unwrap()).await
    }
    pub async fn post(&mut self, path: &str, body: &str) -> Answer {
        // A page makes an id for each reading.
        let id = if path.ends_with("/readings") && !body.contains("id=") {
            format!("&id={}", ironseat_store::RebuildId::new())
        } else {
            String::new()
        };
        let body = format!("_csrf={}{id}&{body}", self.csrf);
        self.post_raw(path, &body).await
    }
    pub async fn signed_in(app: &Router, handle: &str) -> Self {
        Self::signed_in_with(app, handle, "marrow-quay").await
    }
    pub async fn signed_in_with(app: &Router, handle: &str, password: &str) -> Self {
        let mut b = Self::new(app);
        let a = b.post_raw("/sign-in", &format!("handle={handle}&password={password}")).await;
        assert_eq!(a.status, StatusCode::SEE_OTHER, "{}", a.body);
        let page = b.get("/").await.body;
        b.csrf = page.split("data-csrf=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
        b
    }
}

pub async fn shop() -> (Fresh, Router) {
    let f = Fresh::demo().await;
    let app = router(App::new(
        f.store.clone(),
        ironseat_web::Config { first_run_code: "QUAY-CODE".into(), ..Default::default() },
    ));
    (f, app)
}
