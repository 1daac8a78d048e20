"""Addresses of the pictures, below a project."""

from django.urls import path

from ashfell.studio.pictures import darkroom, sheets, views

urlpatterns = [
    path("", views.page, name="pictures"),
    path("start/", views.start, name="picture-start"),
    path("camera/", views.keep_camera, name="picture-camera"),
    path("list/", views.gallery, name="gallery"),
    path("sheets/", sheets.new, name="sheet-new"),
    path("sheets/<int:sheet>/", sheets.page, name="sheet"),
    path("sheets/<int:sheet>/cancel/", sheets.cancel, name="sheet-cancel"),
    path("<int:picture>/", darkroom.page, name="picture"),
    path("<int:picture>/picture.png", views.image, name="picture-image"),
    path("<int:picture>/look.jpg", darkroom.look_jpeg, name="picture-look"),
    path("<int:picture>/layers.exr", darkroom.layers_exr, name="picture-layers"),
    path("<int:picture>/masks/<str:of>.png", darkroom.mask_png, name="picture-mask"),
    path("<int:picture>/look/", darkroom.keep_look, name="picture-keep-look"),
    path("<int:picture>/seen/", darkroom.seen, name="picture-seen"),
    path("<int:picture>/region/", darkroom.region, name="picture-region"),
    path("<int:picture>/lines.svg", darkroom.lines_svg, name="picture-lines"),
    path("<int:picture>/on/", views.go_on, name="picture-go-on"),
    path("<int:picture>/first/", views.go_first, name="picture-first"),
    path("<int:picture>/cancel/", views.cancel, name="picture-cancel"),
]
