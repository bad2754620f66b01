"""Addresses of the schedule."""

from django.urls import path

from darre.schedule.api import views

urlpatterns = [
    path("schedule/", views.ScheduleView.as_view()),
    path("schedule/what-if/", views.WhatIfView.as_view()),
    path("schedule/wishes/", views.WishesView.as_view()),
    path("schedule/wishes/<int:wish_id>/", views.WishView.as_view()),
    path("schedule/wishes/<int:wish_id>/pin/", views.PinView.as_view()),
    path("schedule/helpers/", views.HelpersView.as_view()),
    path("schedule/helpers/<int:helper_id>/", views.HelperView.as_view()),
    path("schedule/changes/", views.HomeChangesView.as_view()),
    path("schedule/changes/<int:change_id>/", views.HomeChangeView.as_view()),
    path("schedule/next/", views.NextStartsView.as_view()),
    path("schedule/stop/", views.StopView.as_view()),
    path("schedule/calendar/<uuid:feed_key>.ics", views.CalendarView.as_view()),
]
