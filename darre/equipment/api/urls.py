"""Addresses of dryers and scales."""

from django.urls import path

from darre.equipment.api import scale_views, views

urlpatterns = [
    path("dryers/", views.DryerListView.as_view()),
    path("dryers/<int:dryer_id>/", views.DryerView.as_view()),
    path("dryers/<int:dryer_id>/service/", views.InServiceView.as_view()),
    path("dryers/<int:dryer_id>/probes/", views.ProbeListView.as_view()),
    path("probes/<int:probe_id>/", views.ProbeView.as_view()),
    path("dryer-kinds/", views.DryerKindListView.as_view()),
    path("scales/", scale_views.ScaleListView.as_view()),
    path("scales/<int:scale_id>/", scale_views.ScaleView.as_view()),
]
