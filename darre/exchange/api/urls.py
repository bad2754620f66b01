"""The address of the data package."""

from django.urls import path

from darre.exchange.api import views

urlpatterns = [
    path("data-package/", views.DataPackageView.as_view()),
    path("tables/", views.TablesView.as_view()),
    path("tables/<str:name>", views.TableView.as_view()),
]
