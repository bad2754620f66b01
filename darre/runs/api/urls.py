"""Addresses of lanes, plans, runs and weighings."""

from django.urls import path

from darre.runs.api import views

urlpatterns = [
    path("lanes/", views.LaneListView.as_view()),
    path("dryers/", views.DryerListView.as_view()),
    path("scales/", views.ScaleListView.as_view()),
    path("plan/", views.PlanView.as_view()),
    path("weighings/", views.WeighingView.as_view()),
    path("runs/", views.RunListView.as_view()),
    path("runs/<int:run_id>/", views.RunView.as_view()),
    path("runs/<int:run_id>/end/", views.EndRunView.as_view()),
]
