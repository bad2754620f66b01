"""Addresses of the rack, storage and a spool's page."""

from django.urls import path

from darre.moisture.api import views

urlpatterns = [
    path("lanes/", views.LaneListView.as_view()),
    path("rack/", views.RackView.as_view()),
    path("spools/<int:spool_id>/page/", views.SpoolPageView.as_view()),
    path("storage/", views.StorageView.as_view()),
]
