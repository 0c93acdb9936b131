"""The web application: routers, models, sign-in, roles."""
