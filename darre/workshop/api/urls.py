"""Addresses of the workshop."""

from django.urls import path

from darre.workshop.api import views

urlpatterns = [
    path("materials/", views.MaterialListView.as_view()),
    path("materials/<slug:material_id>/", views.MaterialView.as_view()),
    path("materials/<slug:material_id>/values/<slug:name>/", views.MaterialValueView.as_view()),
    path("materials/<slug:material_id>/schools/<slug:name>/", views.MaterialSchoolView.as_view()),
    path("spools/<int:spool_id>/sheet/", views.SheetView.as_view()),
    path("preferences/", views.PreferencesView.as_view()),
    path("room/", views.RoomView.as_view()),
]
