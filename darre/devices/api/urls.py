"""Addresses of devices and their readings."""

from django.urls import path

from darre.devices.api import humidity_views, views

urlpatterns = [
    path("ingest/", views.ingest),
    path("devices/", views.DeviceListView.as_view()),
    path("devices/<int:device_id>/", views.DeviceView.as_view()),
    path("devices/<int:device_id>/token/", views.TokenView.as_view()),
    path("devices/<int:device_id>/humidity/", humidity_views.HumidityCheckView.as_view()),
    path("logger-files/look/", views.LookView.as_view()),
    path("logger-files/", views.ImportView.as_view()),
    path("runs/<int:run_id>/air/", views.RunAirView.as_view()),
    path("air-readings/<int:reading_id>/", views.TypedAirView.as_view()),
    path("runs/<int:run_id>/habits/", views.RunHabitsView.as_view()),
    path("runs/<int:run_id>/winding-probe/", views.WindingProbeView.as_view()),
    path("places/<int:place_id>/ingress/", views.PlaceIngressView.as_view()),
    path("scales/<int:scale_id>/live/", views.LiveMassView.as_view()),
]
