"""Addresses: the API under /api/, everything else is the page."""

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from darre.common.api import HealthView, NoSuchAddressView
from darre.common.page import page

handler400 = "darre.common.front_door.bad_request"
handler404 = "darre.common.front_door.not_found"
handler500 = "darre.common.front_door.broken"

urlpatterns = [
    path("api/health/", HealthView.as_view()),
    path("api/schema/", SpectacularAPIView.as_view()),
    path("api/", include("darre.accounts.api.urls")),
    path("api/", include("darre.backup.api.urls")),
    path("api/", include("darre.history.api.urls")),
    path("api/", include("darre.inventory.api.urls")),
    path("api/", include("darre.places.api.urls")),
    path("api/", include("darre.equipment.api.urls")),
    path("api/", include("darre.runs.api.urls")),
    path("api/", include("darre.moisture.api.urls")),
    path("api/", include("darre.planning.api.urls")),
    path("api/", include("darre.schedule.api.urls")),
    path("api/", include("darre.trials.api.urls")),
    path("api/", include("darre.devices.api.urls")),
    path("api/", include("darre.diagnosis.api.urls")),
    path("api/", include("darre.exchange.api.urls")),
    re_path(r"^api/", NoSuchAddressView.as_view()),
    re_path(r"^", page),
]
