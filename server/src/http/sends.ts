import { applyDecorators, Header } from '@nestjs/common';
import { ApiExtension } from '@nestjs/swagger';

/** Under which the OpenAPI document is told what a route sends that is not JSON. */
export const MEDIA_TYPE = 'x-media-type';

/** For the OpenAPI document: this route sends a body of a media type, and says so itself. */
export const SendsItself = (mediaType: string) => ApiExtension(MEDIA_TYPE, mediaType);

/** This route sends text, or a file, of a media type. */
export const Sends = (mediaType: string) =>
  applyDecorators(Header('Content-Type', mediaType), SendsItself(mediaType.replace(/;.*/, '')));
