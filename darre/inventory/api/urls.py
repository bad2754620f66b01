"""Addresses of spools, empty spools, materials and preferences."""

from django.urls import path

from darre.inventory.api import coil_views, spool_views, views

urlpatterns = [
    path("materials/", views.MaterialListView.as_view()),
    path("materials/mixed-in/", views.MixedInListView.as_view()),
    path("materials/<slug:material_id>/", views.MaterialView.as_view()),
    path("materials/<slug:material_id>/values/<slug:name>/", views.MaterialValueView.as_view()),
    path("materials/<slug:material_id>/programmes/<slug:name>/", views.MaterialProgrammeView.as_view()),
    path("empty-spools/", spool_views.EmptySpoolListView.as_view()),
    path("spools/<int:spool_id>/", spool_views.SpoolView.as_view()),
    path("spools/<int:spool_id>/sheet/", views.SheetView.as_view()),
    path("spools/<int:spool_id>/moisture/", spool_views.MoistureView.as_view()),
    path("spools/<int:spool_id>/uses/", spool_views.UseView.as_view()),
    path("spools/<int:spool_id>/coils/", coil_views.CoilListView.as_view()),
    path("coils/<int:coil_id>/", coil_views.CoilView.as_view()),
    path("moisture-readings/<int:reading_id>/", spool_views.MoistureReadingView.as_view()),
    path("uses/<int:use_id>/", spool_views.UseRecordView.as_view()),
    path("spools/<int:spool_id>/label/", spool_views.LabelView.as_view()),
    path("preferences/", views.PreferencesView.as_view()),
]
