"""Addresses of the workshop."""

from django.urls import path

from darre.workshop.api import keep_views, views

urlpatterns = [
    path("materials/", views.MaterialListView.as_view()),
    path("materials/<slug:material_id>/", views.MaterialView.as_view()),
    path("materials/<slug:material_id>/values/<slug:name>/", views.MaterialValueView.as_view()),
    path("materials/<slug:material_id>/schools/<slug:name>/", views.MaterialSchoolView.as_view()),
    path("spools/<int:spool_id>/sheet/", views.SheetView.as_view()),
    path("bodies/", keep_views.BodyListView.as_view()),
    path("spools/", keep_views.SpoolListView.as_view()),
    path("spools/<int:spool_id>/", keep_views.SpoolView.as_view()),
    path("spools/<int:spool_id>/moisture/", keep_views.MoistureView.as_view()),
    path("spools/<int:spool_id>/uses/", keep_views.UseView.as_view()),
    path("stays/", keep_views.MoveView.as_view()),
    path("stays/<int:stay_id>/", keep_views.StayView.as_view()),
    path("places/", keep_views.PlaceListView.as_view()),
    path("places/<int:place_id>/", keep_views.PlaceView.as_view()),
    path("places/<int:place_id>/fills/", keep_views.FillView.as_view()),
    path("fills/<int:fill_id>/weighings/", keep_views.PackView.as_view()),
    path("room/readings/", keep_views.RoomReadingView.as_view()),
    path("room/months/", keep_views.MonthsView.as_view()),
    path("preferences/", views.PreferencesView.as_view()),
    path("room/", views.RoomView.as_view()),
]
