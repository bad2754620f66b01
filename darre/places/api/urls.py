"""Addresses of places, stays, desiccant and the room."""

from django.urls import path

from darre.places.api import room_views, views

urlpatterns = [
    path("spools/", views.SpoolListView.as_view()),
    path("archived-spools/", views.ArchivedListView.as_view()),
    path("stays/", views.MoveView.as_view()),
    path("stays/<int:stay_id>/", views.StayView.as_view()),
    path("places/", views.PlaceListView.as_view()),
    path("places/<int:place_id>/", views.PlaceView.as_view()),
    path("places/<int:place_id>/fills/", views.FillView.as_view()),
    path("fills/<int:fill_id>/weighings/", views.DesiccantWeighingView.as_view()),
    path("room/", room_views.RoomView.as_view()),
    path("room/readings/", room_views.RoomReadingView.as_view()),
    path("room/months/", room_views.MonthsView.as_view()),
]
