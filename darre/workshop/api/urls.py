"""Addresses of the workshop."""

from django.urls import path

from darre.workshop.api.views import MaterialListView, RoomView

urlpatterns = [
    path("materials/", MaterialListView.as_view()),
    path("room/", RoomView.as_view()),
]
