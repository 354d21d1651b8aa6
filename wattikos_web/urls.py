"""Where requests go: the API, the one-time links, and the desk for everything else."""

from django.urls import path, re_path

from wattikos_web.api import api
from wattikos_web.pages import desk
from wattikos_web.signin import sign_in

urlpatterns = [
    path("api/", api.urls),
    path("sign-in/<str:token>", sign_in),
    re_path(r"^(?!static/|api/).*$", desk),
]
