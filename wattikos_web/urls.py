"""Where requests go: the API, the state, the one-time links, and the desk for everything else."""

from django.urls import path, re_path

from wattikos_web.api import api
from wattikos_web.health import health
from wattikos_web.pages import desk
from wattikos_web.signin import sign_in

urlpatterns = [
    path("api/", api.urls),
    path("health", health),
    path("sign-in/<str:token>", sign_in),
    re_path(r"^(?!static/|api/|health).*$", desk),
]
handler400 = "wattikos_web.trouble.bad_request"
handler403 = "wattikos_web.trouble.refused"
handler404 = "wattikos_web.trouble.not_found"
handler500 = "wattikos_web.trouble.server_error"
